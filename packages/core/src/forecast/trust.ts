import { chargeAtRest } from '../battery/index.js';
import { seededRandom, standardNormal } from '../numeric/index.js';
import { calibrate, centreOf, sampleOf, type Calibration } from './calibrate.js';
import { windDoubtOf } from './fit-motion.js';
import type { KnownOfBike, Parameters } from './parameters.js';
import {
  pathProfile,
  ridePath,
  type PathOutcome,
  type PathProfile,
  type PathRiding,
  type RidingAlong,
} from './ride-path.js';
import type { RideRecord } from './ride-record.js';

/** How forecasts of rides that were left out came out. */
export interface TrustFigure {
  readonly n: number;
  /** Rides inside their 95 % interval. */
  readonly hits: number;
  /** Mean of ridden over forecast, less 1. */
  readonly bias: number;
  /** Standard deviation of the same. */
  readonly spread: number;
  /** What the intervals have to be wider by, σ of the logarithm (of a rise: as a share of it). */
  readonly beyond: number;
}
export interface TrustRide {
  readonly name: string;
  readonly figures: readonly {
    readonly key: 'energy' | 'time' | 'rise';
    readonly forecast: number;
    readonly interval95: readonly [number, number];
    readonly ridden: number;
  }[];
}
export interface Trust {
  readonly energy?: TrustFigure;
  readonly time?: TrustFigure;
  readonly rise?: TrustFigure;
  readonly rides: readonly TrustRide[];
  /** Its own checks were missed more often than chance would have it. */
  readonly isMissed: boolean;
}

/** What forecasts of a bike miss by before any was checked, σ of the logarithm, and what that is worth in rides. */
const BEFORE = { energy: 0.03, time: 0.015, rise: 0.08 } as const;
const BEFORE_WORTH = 3;
const MOST_FOLDS = 5;
const DRAWS = 30;
const CELL_M = 10;
const LEAST_M = 300;
const LEAST_RISE_K = 3;

type Key = 'energy' | 'time' | 'rise';
interface Check {
  readonly key: Key;
  readonly forecast: number;
  readonly sd: number;
  readonly ridden: number;
}

/**
 * Leaves outings out in turn, forecasts their rides as they were ridden, and sees how that did. Rides with a throttle logged are ridden by it and
 * are judged on time too; others hold the speed that was ridden, and are judged on energy and warmth.
 * Fewer than two outings cannot be checked: what is usual is assumed. Same seed, same answer.
 */
export function trustOf(records: readonly RideRecord[], known: KnownOfBike, seed = 1): Trust {
  const outings = [...new Set(records.map(outingOf))];
  const folds = Math.min(MOST_FOLDS, outings.length);
  const rides: TrustRide[] = [];
  const checks: Check[] = [];
  if (outings.length >= 2)
    for (let fold = 0; fold < folds; fold++) {
      const left = new Set(outings.filter((_, k) => k % folds === fold));
      const own = calibrate(
        records.filter((record) => !left.has(outingOf(record))),
        known,
      );
      for (const record of records.filter((each) => left.has(outingOf(each)))) {
        const found = checksOf(record, own, seed);
        checks.push(...found);
        rides.push({
          name: record.facts.name,
          figures: found.map(({ key, forecast, sd, ridden }) => {
            const wide = Math.hypot(sd, BEFORE[key]);
            return {
              key,
              forecast,
              ridden,
              interval95:
                key === 'rise'
                  ? [forecast * (1 - 2 * wide), forecast * (1 + 2 * wide)]
                  : [forecast * Math.exp(-2 * wide), forecast * Math.exp(2 * wide)],
            };
          }),
        });
      }
    }
  const figure = (key: Key): TrustFigure | undefined =>
    summaryOf(
      key,
      checks.filter((check) => check.key === key),
    );
  const [energy, time, rise] = [figure('energy'), figure('time'), figure('rise')];
  const all = [energy, time, rise].filter((each) => each !== undefined);
  return {
    ...(energy && { energy }),
    ...(time && { time }),
    ...(rise && { rise }),
    rides,
    isMissed: all.some(({ n, hits }) => n >= 4 && hits < 0.7 * n),
  };
}

function outingOf({ facts }: RideRecord): string {
  return facts.outing ?? facts.name;
}

function summaryOf(key: Key, checks: readonly Check[]): TrustFigure | undefined {
  const before = BEFORE[key];
  const ratios = checks.map(({ forecast, ridden }) =>
    key === 'rise' ? ridden / forecast - 1 : Math.log(ridden / forecast),
  );
  const n = ratios.length;
  const excess = checks.reduce((sum, { sd }, k) => sum + ratios[k]! ** 2 - sd * sd, 0);
  const beyond = Math.sqrt(
    Math.max(0.25 * before * before, (BEFORE_WORTH * before * before + excess) / (BEFORE_WORTH + n)),
  );
  const mean = n > 0 ? ratios.reduce((sum, ratio) => sum + ratio, 0) / n : 0;
  return {
    n,
    hits: checks.filter(({ sd }, k) => Math.abs(ratios[k]!) < 2 * Math.hypot(sd, before)).length,
    bias: key === 'rise' ? mean : Math.expm1(mean),
    spread: n > 1 ? Math.sqrt(ratios.reduce((sum, ratio) => sum + (ratio - mean) ** 2, 0) / (n - 1)) : 0,
    beyond,
  };
}

function checksOf(record: RideRecord, calibration: Calibration, seed: number): Check[] {
  const as = asRidden(record, calibration);
  if (!as) return [];
  const random = seededRandom(seed);
  const normal = (): number => standardNormal(random);
  const ride = (parameters: Parameters, wind: number, rider: number): PathOutcome =>
    ridePath(
      {
        parameters,
        fixed: calibration.fixed,
        law: calibration.command.law,
        massKg: record.facts.totalMassKg,
        cutBackFromC: Infinity,
        cutBackToC: Infinity,
      },
      as.way,
      { ...as.riding, riderW: as.riding.riderW * rider, ...(as.along && { along: scaledRider(as.along, rider) }) },
      {
        density: record.facts.airDensity,
        temperatureC: record.facts.airTemperatureC,
        headWindMps: (record.facts.windMps ?? 0) + wind,
      },
      { share: as.startShare, motorC: as.startC, speedMps: as.startMps },
    );
  const { rider } = calibration.motion;
  const told = as.riderIsLogged ? 1 : Math.exp(rider.mean);
  const likely = ride(centreOf(calibration), 0, told);
  if (likely.endedBy !== 'finish') return [];
  const windSd = windDoubtOf(record.facts);
  const riderSd = as.riderIsLogged ? 0.03 : rider.sd;
  const drawn = Array.from({ length: DRAWS }, () =>
    ride(
      sampleOf(calibration.parts, calibration.priors, normal).parameters,
      windSd * normal(),
      told * Math.exp(riderSd * normal()),
    ),
  );
  const checks: Check[] = [];
  const add = (key: Key, ridden: number | undefined, of: (outcome: PathOutcome) => number): void => {
    if (ridden === undefined || !(ridden > 0)) return;
    const centre = of(likely);
    if (!(centre > 0)) return;
    const logs = drawn.map((outcome) =>
      key === 'rise' ? of(outcome) / centre - 1 : Math.log(Math.max(1e-9, of(outcome)) / centre),
    );
    checks.push({
      key,
      forecast: centre,
      ridden,
      sd: Math.sqrt(logs.reduce((sum, x) => sum + x * x, 0) / logs.length),
    });
  };
  add('energy', as.energyWh, ({ energyOutJ }) => energyOutJ / 3600);
  if (as.isByThrottle) add('time', as.movingS, ({ movingS }) => movingS);
  if (as.riseK !== undefined && as.riseK > LEAST_RISE_K)
    add('rise', as.riseK, ({ peakMotorC }) => peakMotorC - as.startC);
  return checks;
}

function scaledRider(along: RidingAlong, by: number): RidingAlong {
  return along.riderW ? { ...along, riderW: along.riderW.map((watts) => watts * by) } : along;
}

interface AsRidden {
  readonly way: PathProfile;
  readonly riding: PathRiding;
  readonly along: RidingAlong;
  readonly startShare: number;
  readonly startC: number;
  readonly startMps: number;
  readonly energyWh: number;
  readonly movingS: number;
  readonly riseK: number | undefined;
  readonly isByThrottle: boolean;
  readonly riderIsLogged: boolean;
}

/** A ride as a path would repeat it: its way, and throttle or speed along it. Undefined where it is too short or has no power. */
function asRidden(record: RideRecord, { fixed, priors, parts }: Calibration): AsRidden | undefined {
  const {
    count,
    distanceM,
    speedMps,
    powerW,
    throttle,
    riderW,
    altitudeM,
    voltageV,
    currentA,
    motorC,
    isBraking,
    facts,
  } = record;
  const lengthM = distanceM.at(-1)! - distanceM[0]!;
  let [energyJ, missing, movingS] = [0, 0, 0];
  for (let k = 0; k < count; k++) {
    if (Number.isNaN(powerW[k]!)) missing++;
    else if (powerW[k]! > 0) energyJ += powerW[k]!;
    if (speedMps[k]! > 0.5) movingS++;
  }
  if (facts.isOrdinary === false || lengthM < LEAST_M || missing > 0.02 * count || energyJ <= 0) return undefined;
  const cells = Math.ceil(lengthM / CELL_M);
  const byCell = (values: Float64Array, otherwise: number): Float64Array => {
    const sums = new Float64Array(cells);
    const hits = new Float64Array(cells);
    for (let k = 0; k < count; k++) {
      if (Number.isNaN(values[k]!) || !(speedMps[k]! > 0.3)) continue;
      const cell = Math.min(cells - 1, Math.floor((distanceM[k]! - distanceM[0]!) / CELL_M));
      sums[cell]! += values[k]!;
      hits[cell]!++;
    }
    let last = otherwise;
    return sums.map((sum, cell) => (last = hits[cell]! > 0 ? sum / hits[cell]! : last));
  };
  const isByThrottle = throttle.filter((value) => !Number.isNaN(value)).length > 0.9 * count;
  const riderIsLogged = riderW.filter((value) => !Number.isNaN(value)).length > 0.9 * count;
  const slow = byCell(speedMps, 5);
  const braked = byCell(Float64Array.from(isBraking), 0);
  const targetMps = slow.map((v, cell) =>
    !isByThrottle || braked[cell]! > 0.5 || v < 2 ? Math.max(0.8, v) : Infinity,
  );
  const packAt = parts.find(({ names }) => names.includes('packResistance'));
  const ohm = packAt ? Math.exp(packAt.estimate[packAt.names.indexOf('packResistance')]!) : priors.packResistance.value;
  const offset = packAt ? packAt.estimate[packAt.names.indexOf('cellOffset')]! : 0;
  const firstV = voltageV.findIndex((value, k) => value > 5 && !Number.isNaN(currentA[k]!));
  const startShare =
    firstV < 0
      ? 0.9
      : chargeAtRest(fixed.chemistry, (voltageV[firstV]! + ohm * currentA[firstV]!) / fixed.seriesCells - offset);
  const temperatures = Array.from(motorC).filter((value) => !Number.isNaN(value));
  const startC = temperatures.length > 20 ? mean(temperatures.slice(0, 10)) : facts.airTemperatureC;
  return {
    way: wayRidden(record, lengthM, altitudeM),
    riding: { demand: 1, targetMps: Infinity, riderW: facts.riderPowerW ?? 0, stopsM: [], dwellS: 0, rampS: 0.6 },
    along: {
      everyM: CELL_M,
      targetMps,
      ...(isByThrottle && { demand: byCell(throttle, 0.5) }),
      ...(riderIsLogged && { riderW: byCell(riderW, 0) }),
    },
    startShare: Math.min(1, Math.max(0.2, startShare)),
    startC,
    startMps: Math.max(0, speedMps[0]! || 0),
    energyWh: energyJ / 3600,
    movingS,
    riseK: temperatures.length > 60 ? peakOf(temperatures) - startC : undefined,
    isByThrottle,
    riderIsLogged,
  };
}

/** Altitude smoothed over some fifty metres, a point every 40 m. */
function wayRidden({ count, distanceM }: RideRecord, lengthM: number, altitudeM: Float64Array): PathProfile {
  const pieces = Math.max(2, Math.round(lengthM / 40));
  const sums = new Float64Array(pieces + 1);
  const hits = new Float64Array(pieces + 1);
  for (let k = 0; k < count; k++) {
    const height = altitudeM[k];
    if (height === undefined || Number.isNaN(height)) continue;
    const at = Math.round(((distanceM[k]! - distanceM[0]!) / lengthM) * pieces);
    sums[at]! += height;
    hits[at]!++;
  }
  let last = sums.find((_, k) => hits[k]! > 0) === undefined ? 0 : sums[firstHit(hits)]! / hits[firstHit(hits)]!;
  return pathProfile(
    Array.from({ length: pieces + 1 }, (_, k) => {
      if (hits[k]! > 0) last = sums[k]! / hits[k]!;
      return { distanceM: (k * lengthM) / pieces, altitudeM: last };
    }),
  );
}

function firstHit(hits: Float64Array): number {
  return hits.findIndex((n) => n > 0);
}

function mean(values: readonly number[]): number {
  return values.reduce((sum, value) => sum + value, 0) / values.length;
}

/** Highest ten-second mean: one noisy sample is no peak. */
function peakOf(values: readonly number[]): number {
  let peak = -Infinity;
  for (let k = 0; k + 10 <= values.length; k += 5) peak = Math.max(peak, mean(values.slice(k, k + 10)));
  return peak;
}
