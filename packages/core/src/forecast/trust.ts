import { seededRandom, standardNormal } from '../numeric/index.js';
import { asRidden } from './as-ridden.js';
import { calibrate, centreOf, sampleOf, type Calibration } from './calibrate.js';
import { windDoubtOf } from './fit-motion.js';
import type { KnownOfBike, Parameters } from './parameters.js';
import type { PathOutcome, PathProfile, RidingAlong } from './path.js';
import { ridePath } from './ride-path.js';
import { riderKnownBy, UNSAID_RIDER, type RideRecord } from './ride-record.js';

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
  /** What the spans of the draws are taken by: below 1 where rides came out far closer to what was foretold than the draws allow for. */
  readonly within: number;
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
const BEFORE = { energy: 0.02, time: 0.012, rise: 0.06 } as const;
const BEFORE_WORTH = 3;
/** How close rides came to what was foretold speaks for the next after so many, and never for less than this share of the draws' span. */
const WITHIN_WORTH = 2;
const LEAST_WITHIN = 0.5;
const MOST_FOLDS = 5;
const DRAWS = 20;
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
  // Each check in the spans it had: one on the average where draws and days vary as much as they say.
  const squares = checks.reduce((sum, { sd }, k) => sum + ratios[k]! ** 2 / Math.max(1e-9, sd * sd), 0);
  const within = Math.min(1, Math.max(LEAST_WITHIN, Math.sqrt((WITHIN_WORTH + squares) / (WITHIN_WORTH + n))));
  const mean = n > 0 ? ratios.reduce((sum, ratio) => sum + ratio, 0) / n : 0;
  return {
    n,
    hits: checks.filter(({ sd }, k) => Math.abs(ratios[k]!) < 2 * Math.hypot(sd, before)).length,
    bias: key === 'rise' ? mean : Math.expm1(mean),
    spread: n > 1 ? Math.sqrt(ratios.reduce((sum, ratio) => sum + (ratio - mean) ** 2, 0) / (n - 1)) : 0,
    beyond,
    within,
  };
}

function checksOf(record: RideRecord, calibration: Calibration, seed: number): Check[] {
  const as = asRidden(record, calibration);
  if (!as) return [];
  const { facts } = record;
  const round = { ...as.way, towards: roundTowards(as.way) };
  const random = seededRandom(seed);
  const normal = (): number => standardNormal(random);
  const ride = (parameters: Parameters, wind: number, rider: number): PathOutcome =>
    ridePath(
      {
        parameters,
        fixed: calibration.fixed,
        law: calibration.command.law,
        ...(calibration.command.riderRatio && { riderRatio: calibration.command.riderRatio.value }),
        ...(calibration.regain && { regain: calibration.regain }),
        massKg: facts.totalMassKg,
        cutBackFromC: Infinity,
        cutBackToC: Infinity,
      },
      facts.windRoundMps ? round : as.way,
      { ...as.riding, riderW: as.riding.riderW * rider, ...(as.along && { along: scaledRider(as.along, rider) }) },
      {
        density: facts.airDensity,
        temperatureC: facts.airTemperatureC,
        headWindMps: (facts.windRoundMps ?? facts.windMps ?? 0) + wind,
      },
      { share: as.startShare, motorC: as.startC, speedMps: as.startMps },
    );
  const { rider } = calibration.motion;
  const by = riderKnownBy(record);
  const told = by === 'word' ? Math.exp(rider.mean) : 1;
  const likely = ride(centreOf(calibration), 0, told);
  if (likely.endedBy !== 'finish') return [];
  const windSd = windDoubtOf(facts);
  const riderSd = { log: 0.03, word: rider.sd, nothing: UNSAID_RIDER.sd }[by];
  const drawn = Array.from({ length: DRAWS }, () =>
    ride(sampleOf(calibration, normal).parameters, windSd * normal(), told * Math.exp(riderSd * normal())),
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

/** A way that comes round, taken as a circle. */
function roundTowards({ endM, lengthM }: PathProfile): NonNullable<PathProfile['towards']> {
  const middle = endM.map((end, k) => (2 * Math.PI * (end + (k > 0 ? endM[k - 1]! : 0))) / 2 / lengthM);
  return { ahead: middle.map(Math.cos), right: middle.map(Math.sin) };
}
