import type { RideRecord } from './ride-record.js';

/** What the rides of a calibration reached. SI, °C. */
export interface Ridden {
  readonly rides: number;
  readonly massKg: readonly [number, number];
  readonly airC: readonly [number, number] | null;
  /** Steepest rise held over `GRADE_OVER_M`, as rise over run; null where no ride has an altitude. */
  readonly steepest: number | null;
  readonly fastestMps: number;
  readonly longestM: number;
  readonly longestS: number;
  /** Most charge used in one ride, Ah. */
  readonly mostUsedAh: number;
  readonly hottestC: number | null;
  readonly highestDemand: number | null;
}

export const GRADE_OVER_M = 150;

/** Limits of what was ridden: beyond them a forecast leans on the ride model alone. Undefined without rides. */
export function whatWasRidden(records: readonly RideRecord[]): Ridden | undefined {
  if (records.length === 0) return undefined;
  const most = (values: readonly number[]): number => values.reduce((high, value) => Math.max(high, value), -Infinity);
  const least = (values: readonly number[]): number => -most(values.map((value) => -value));
  const masses = records.map(({ facts }) => facts.totalMassKg);
  const airs = records.filter((record) => record.airTemperatureIsKnown).map(({ facts }) => facts.airTemperatureC);
  const grades = records.flatMap(steepestOf);
  const temperatures = records.flatMap(({ motorC }) => finite(motorC));
  const demands = records.flatMap(({ throttle }) => finite(throttle));
  return {
    rides: records.length,
    massKg: [least(masses), most(masses)],
    airC: airs.length > 0 ? [least(airs), most(airs)] : null,
    steepest: grades.length > 0 ? most(grades) : null,
    fastestMps: most(records.flatMap(({ speedMps }) => finite(speedMps))),
    longestM: most(records.map(({ distanceM }) => distanceM.at(-1) ?? 0)),
    longestS: most(records.map(({ count }) => count)),
    mostUsedAh: most(records.map(({ currentA }) => finite(currentA).reduce((sum, current) => sum + current, 0) / 3600)),
    hottestC: temperatures.length > 0 ? most(temperatures) : null,
    highestDemand: demands.length > 0 ? most(demands) : null,
  };
}

function finite(values: Float64Array): number[] {
  return Array.from(values).filter((value) => !Number.isNaN(value));
}

function steepestOf({ altitudeM, distanceM, count }: RideRecord): number[] {
  if (altitudeM.length === 0) return [];
  let [found, from] = [-Infinity, 0];
  const meanAt = (k: number): number => {
    let [sum, n] = [0, 0];
    for (let j = Math.max(0, k - 2); j <= Math.min(count - 1, k + 2); j++)
      if (!Number.isNaN(altitudeM[j]!)) {
        sum += altitudeM[j]!;
        n++;
      }
    return sum / n;
  };
  for (let to = 0; to < count; to += 3) {
    while (distanceM[to]! - distanceM[from]! > GRADE_OVER_M + 20) from++;
    const run = distanceM[to]! - distanceM[from]!;
    if (run < GRADE_OVER_M - 20) continue;
    const grade = (meanAt(to) - meanAt(from)) / run;
    if (grade > found) found = grade;
  }
  return Number.isFinite(found) ? [found] : [];
}
