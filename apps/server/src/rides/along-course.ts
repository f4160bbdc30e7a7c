import { placeOnCourse, timedSection, turnedCourse } from '@ebrix/core/courses';
import type { AlongBundle, Course } from '@ebrix/contract';

/** Places of a way that a phone follows it by. */
const PATH_PLACES = 240;

/** A course with places along it, turned into the direction that is ridden. */
export function alongCourse(course: Course, direction: 1 | -1): AlongBundle['courses'][number] {
  const { track, lengthM, gates } = course;
  const timed = lengthM === null ? undefined : timedSection(gates, lengthM);
  const drawn = track && { plan: track.plan, lengthM: track.lengthM, ...(track.origin && { origin: track.origin }) };
  const path =
    drawn && lengthM
      ? Array.from({ length: PATH_PLACES + 1 }, (_, k) => (k * lengthM) / PATH_PLACES).flatMap((distanceM) => {
          const place = placeOnCourse(drawn, distanceM);
          return place ? [{ ...place, distanceM }] : [];
        })
      : [];
  const asDrawn: AlongBundle['courses'][number] = {
    id: course.id,
    name: course.name,
    kind: course.kind,
    lengthM,
    startM: timed?.startM ?? null,
    finishM: timed?.finishM ?? null,
    cautions: course.cautions,
    temperatureStopsM: gates.filter(({ kind }) => kind === 'temperature-stop').map(({ distanceM }) => distanceM),
    path,
    gates: [...gates].sort((a, b) => a.distanceM - b.distanceM),
  };
  return direction === 1 ? asDrawn : turnedCourse(asDrawn);
}
