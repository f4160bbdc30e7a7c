import type { PathPlace } from '../track/index.js';
import type { TimingGate, TimingGateKind } from './timing-gates.js';

interface DirectedCourse {
  readonly lengthM: number | null;
  readonly startM: number | null;
  readonly finishM: number | null;
  readonly temperatureStopsM: readonly number[];
  readonly path: readonly PathPlace[];
  readonly gates: readonly TimingGate[];
}
/** Ridden the other way round the start is where it ends. */
const TURNED: Partial<Record<TimingGateKind, TimingGateKind>> = { start: 'finish', finish: 'start' };

/** A course in the direction it was drawn, as it is ridden the other way: distances count from its other end. As it is where its length is not known. */
export function turnedCourse<C extends DirectedCourse>(course: C): C {
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
