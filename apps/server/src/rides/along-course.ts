import { placeOnCourse, timedSection } from '@ebrix/core/courses';
import type { AlongBundle, Course } from '@ebrix/contract';

/** Places of a way that a phone follows it by. */
const PATH_PLACES = 240;
/** Ridden the other way round the start is where it ends. */
const TURNED: Partial<Record<string, 'finish' | 'start'>> = { start: 'finish', finish: 'start' };

/** A course with places along it, turned into the direction that is ridden. */
export function alongCourse(course: Course, direction: 1 | -1): AlongBundle['courses'][number] {
  const { track, lengthM, gates } = course;
  const turned = (distanceM: number): number => (direction === 1 || lengthM === null ? distanceM : lengthM - distanceM);
  const timed = lengthM === null ? undefined : timedSection(gates, lengthM, direction);
  const drawn = track && { plan: track.plan, lengthM: track.lengthM, ...(track.origin && { origin: track.origin }) };
  const places =
    drawn && lengthM
      ? Array.from({ length: PATH_PLACES + 1 }, (_, k) => (k * lengthM) / PATH_PLACES).flatMap((distanceM) => {
          const place = placeOnCourse(drawn, distanceM);
          return place ? [{ ...place, distanceM: turned(distanceM) }] : [];
        })
      : [];
  const shown = gates.map((gate) => ({
    ...gate,
    kind: direction === 1 ? gate.kind : (TURNED[gate.kind] ?? gate.kind),
    distanceM: turned(gate.distanceM),
  }));
  return {
    id: course.id,
    name: course.name,
    kind: course.kind,
    lengthM,
    startM: timed?.startM ?? null,
    finishM: timed?.finishM ?? null,
    cautions: course.cautions,
    temperatureStopsM: shown.filter(({ kind }) => kind === 'temperature-stop').map(({ distanceM }) => distanceM),
    path: direction === 1 ? places : places.reverse(),
    gates: shown.sort((a, b) => a.distanceM - b.distanceM),
  };
}
