import { fitWithPriors, neighbourInflation } from '../numeric/index.js';
import { STANDARD_GRAVITY_MPS2 } from '../units/index.js';
import { motionBlocks, motorWorkJ, type MotionBlock } from './motion-blocks.js';
import type { DriveLosses } from './motor-law.js';
import type { PartFit } from './part-fit.js';
import { fromScale, toScale, type FixedOfBike, type ParameterName, type Priors } from './parameters.js';
import { riderKnownBy, UNSAID_RIDER, type RideFacts, type RideRecord } from './ride-record.js';

export const MOTION_PARAMETERS = [
  'dragArea',
  'rolling',
  'driveEfficiency',
  'copperLoss',
  'ironDrag',
  'idlePower',
] as const satisfies readonly ParameterName[];

export interface MotionFit extends PartFit {
  /** Of each ride: head wind beyond what was stated, m/s, and rider's power as a multiple of what was stated. */
  readonly rides: readonly { readonly windMps: number; readonly riderFactor: number }[];
  /** What this rider gives against what was told, as a logarithm: the mean over rides, and from ride to ride. */
  readonly rider: { readonly mean: number; readonly sd: number };
  /** No ride has the rider's power logged, or of some it was told: a forecast's is told as well. */
  readonly isRiderTold: boolean;
  /** Balance that is left over, N, of one block. */
  readonly leftOverN: number;
}

/** Doubt about a mean wind that was stated, and about one that was not, m/s. */
const WIND_STATED = 0.4;
const WIND_UNKNOWN = 1.3;
const RIDER_TOLD = 0.25;
const RIDER_DOUBT = { log: 0.06, word: RIDER_TOLD, nothing: UNSAID_RIDER.sd } as const;
const RIDER_WORTH = 2;
/** The balance of a block is not believed better than this share of the forces in it, nor than so much, N. */
const BALANCE_SHARE = 0.03;
const BALANCE_N = 0.7;
const ROUND_SHARE = 0.75;

/**
 * Drag area, rolling resistance and losses of the drive from the balance of energy over blocks of rides: battery and rider put in what air,
 * road, height and speed took. Each ride has a wind and a rider of its own about what was stated.
 * Method: `fitWithPriors`. Source: along-track equation of motion, integrated over each block.
 */
export function fitMotion(records: readonly RideRecord[], priors: Priors, fixed: FixedOfBike): MotionFit {
  const blocks = records.flatMap((record, ride) => motionBlocks(record, ride, fixed.speedLimitMps ?? Infinity));
  const rides = records.length;
  const p = MOTION_PARAMETERS.length + 2 * rides;
  const priorMean = new Float64Array(p);
  const priorSd = new Float64Array(p);
  MOTION_PARAMETERS.forEach((name, j) => {
    priorMean[j] = toScale(name, priors[name].value);
    priorSd[j] = priors[name].sd;
  });
  records.forEach((record, k) => {
    priorSd[MOTION_PARAMETERS.length + 2 * k] = windDoubtOf(record.facts);
    priorSd[MOTION_PARAMETERS.length + 2 * k + 1] = RIDER_DOUBT[riderKnownBy(record)];
  });
  const sizes = blocks.map((block) => blockDeviation(records[block.ride]!, block));
  // The motor's work depends on its losses alone: while a wind or a rider is tried it stays.
  const works = new Float64Array(blocks.length);
  let worksOf = '';
  const fit = fitWithPriors({
    priorMean,
    priorSd,
    residualCount: blocks.length,
    correlation: neighbourInflation,
    residuals: (x, into) => {
      const at = (j: number): number => fromScale(MOTION_PARAMETERS[j]!, x[j]!);
      const losses: DriveLosses = {
        driveEfficiency: at(2),
        copperLoss: at(3),
        ironDrag: at(4),
        idlePower: at(5),
        isGeared: fixed.isGeared,
        isAlwaysTurning: fixed.isAlwaysTurning,
      };
      const key = `${x[2]!} ${x[3]!} ${x[4]!} ${x[5]!}`;
      if (key !== worksOf) {
        blocks.forEach((block, i) => (works[i] = motorWorkJ(records[block.ride]!, block, losses)));
        worksOf = key;
      }
      blocks.forEach((block, i) => {
        const record = records[block.ride]!;
        const wind = (record.facts.windMps ?? 0) + x[MOTION_PARAMETERS.length + 2 * block.ride]!;
        const rider = Math.exp(x[MOTION_PARAMETERS.length + 2 * block.ride + 1]!);
        const inN = (rider * block.riderJ + works[i]! - block.gainedJ) / block.lengthM;
        into[i] = (inN - resistanceN(record, block, at(0), at(1), wind)) / sizes[i]!;
      });
    },
  });
  const q = MOTION_PARAMETERS.length;
  const told = records.flatMap((record, k) =>
    riderKnownBy(record) === 'word' && blocks.some(({ ride, riderJ }) => ride === k && riderJ > 0)
      ? [fit.estimate[q + 2 * k + 1]!]
      : [],
  );
  return {
    rider: riderOf(told),
    isRiderTold: told.length > 0 || !records.some((record) => riderKnownBy(record) === 'log'),
    names: MOTION_PARAMETERS,
    estimate: Array.from(fit.estimate.slice(0, q)),
    covariance: Array.from({ length: q * q }, (_, k) => fit.covariance[Math.floor(k / q) * p + (k % q)]!),
    used: blocks.length,
    rides: records.map((_, k) => ({
      windMps: fit.estimate[q + 2 * k]!,
      riderFactor: Math.exp(fit.estimate[q + 2 * k + 1]!),
    })),
    leftOverN: fit.residualScale * (sizes.reduce((sum, size) => sum + size, 0) / Math.max(1, sizes.length)),
  };
}

/** What is told of a rider against what rides show: a mean that leans on one with two rides' worth, and the scatter from ride to ride. */
function riderOf(logs: readonly number[]): MotionFit['rider'] {
  const n = logs.length;
  const mean = logs.reduce((sum, log) => sum + log, 0) / (n + RIDER_WORTH);
  const square = logs.reduce((sum, log) => sum + (log - mean) ** 2, 0);
  return { mean, sd: Math.sqrt((RIDER_WORTH * RIDER_TOLD ** 2 + square) / (n + RIDER_WORTH)) };
}

/** Of the mean wind of a ride, m/s. */
export function windDoubtOf({ windMps, windDoubtMps }: Pick<RideFacts, 'windDoubtMps' | 'windMps'>): number {
  return windDoubtMps ?? (windMps === undefined ? WIND_UNKNOWN : WIND_STATED);
}

/** Mean of air and road over a block, N. */
function resistanceN(
  { facts: { airDensity, totalMassKg, windRoundMps = 0 } }: RideRecord,
  { lengthM, speedSquaredM3, speedM2 }: MotionBlock,
  dragAreaM2: number,
  rolling: number,
  windMps: number,
): number {
  // ∫ (v + w)² ds; a tail wind faster than the bike pushes, which a mean over a block need not tell.
  // Round a circle √((v + w·cos)² + (w·sin)²)·(v + w·cos) means v² + ¾·w² to second order.
  const airM3 =
    speedSquaredM3 + 2 * windMps * speedM2 + (windMps * Math.abs(windMps) + ROUND_SHARE * windRoundMps ** 2) * lengthM;
  return (0.5 * airDensity * dragAreaM2 * airM3) / lengthM + totalMassKg * STANDARD_GRAVITY_MPS2 * rolling;
}

function blockDeviation(record: RideRecord, block: MotionBlock): number {
  const { facts } = record;
  const typicalN =
    (0.5 * facts.airDensity * 0.58 * block.speedSquaredM3) / block.lengthM + 0.0085 * 9.81 * facts.totalMassKg;
  const climbN = Math.abs(block.gainedJ) / block.lengthM;
  return Math.hypot(block.endsN, BALANCE_N, BALANCE_SHARE * (typicalN + climbN));
}
