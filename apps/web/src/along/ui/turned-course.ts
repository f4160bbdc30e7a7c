import type { AlongPlanned } from '@ebrix/contract';

type Course = AlongPlanned['course'];
/** Ridden the other way round the start is where it ends. */
const TURNED: Partial<Record<string, Course['gates'][number]['kind']>> = { start: 'finish', finish: 'start' };

/** A course that came along in the direction it was drawn, as it is ridden the other way. Needs its length. */
export function turnedCourse(course: Course): Course {
  const { lengthM, startM, finishM, path, gates, temperatureStopsM } = course;
  if (lengthM === null) return course;
  const turned = (distanceM: number): number => lengthM - distanceM;
  return {
    ...course,
    startM: finishM === null ? null : turned(finishM),
    finishM: startM === null ? null : turned(startM),
    temperatureStopsM: temperatureStopsM.map(turned).sort((a, b) => a - b),
    path: path.map((place) => ({ ...place, distanceM: turned(place.distanceM) })).reverse(),
    gates: gates
      .map((gate) => ({ ...gate, kind: TURNED[gate.kind] ?? gate.kind, distanceM: turned(gate.distanceM) }))
      .sort((a, b) => a.distanceM - b.distanceM),
  };
}
