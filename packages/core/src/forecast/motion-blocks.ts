import { estimateNoise } from '../signal/index.js';
import { STANDARD_GRAVITY_MPS2 } from '../units/index.js';
import { copperAt, forceOfPower, type DriveLosses } from './motor-law.js';
import { riderKnownBy, UNSAID_RIDER, type RideRecord } from './ride-record.js';

/** A part of a ride over which the balance of energy is taken. SI. */
export interface MotionBlock {
  readonly ride: number;
  readonly from: number;
  readonly to: number;
  readonly lengthM: number;
  /** ∫ v² ds and ∫ v ds: what drag is made of, in still air and to first order in the wind. */
  readonly speedSquaredM3: number;
  readonly speedM2: number;
  /** Rider's work as logged or as told, J. */
  readonly riderJ: number;
  /** Height and motion gained, J. */
  readonly gainedJ: number;
  /** Standard deviation of the balance per metre from altitude and speed at its ends, N. */
  readonly endsN: number;
}

export const ROTATING_FACTOR = 1.02;
const BLOCK_S = 25;
const MOVING_MPS = 1.2;
/** A profile that nobody measured: the way may rise and fall by so much of its length. */
const UNKNOWN_GRADE = 0.006;
const SPEED_DOUBT_MPS = 0.06;
/** Draws no more than its electronics. */
const RESTING_W = 12;
/** A rider of whom one was only told varies within a ride by this share. */
const TOLD_DOUBT = 0.35;
/** Of a ride known by its figures alone: speeds that vary by a fifth, and the balance that starts, brakes and hills within it upset, N. */
const UNEVEN = 1.08;
const UNSEEN_N = 2.5;

/**
 * Blocks of about 25 s in which the bike moves, nobody brakes, and speed and power are known. Their ends are the straight line through five
 * seconds, so that noise of altitude and speed counts little; the noise is estimated from the log itself.
 */
export function motionBlocks(record: RideRecord, ride: number, helpEndsMps: number): MotionBlock[] {
  const { count, speedMps, powerW, isBraking, riderW, facts, altitudeM, cadenceRpm } = record;
  const hasAltitude = altitudeM.length > 0 && altitudeM.some((value) => !Number.isNaN(value));
  const noiseM = hasAltitude ? Math.max(0.15, estimateNoise(altitudeM)) : 0;
  const weight = facts.totalMassKg * STANDARD_GRAVITY_MPS2;
  const toldW = facts.riderPowerW ?? UNSAID_RIDER.watts;
  const isTold = riderKnownBy(record) !== 'log';
  const usable = (k: number): boolean => speedMps[k]! > MOVING_MPS && !Number.isNaN(powerW[k]!) && isBraking[k] === 0;
  const pedalled = (k: number): number => {
    const logged = riderW[k]!;
    if (!Number.isNaN(logged)) return logged;
    if (!Number.isNaN(cadenceRpm[k]!)) return cadenceRpm[k]! > 15 ? toldW : 0;
    return isUnseen(k) ? toldW / 2 : toldW;
  };
  // Nobody saw the cranks, and the motor does not help although it could: they stand still, or the rider pedals along without it.
  const isUnseen = (k: number): boolean =>
    isTold && Number.isNaN(cadenceRpm[k]!) && !(powerW[k]! > RESTING_W) && !(speedMps[k]! > helpEndsMps - 0.5);
  const blocks: MotionBlock[] = [];
  let from = 0;
  while (from < count) {
    if (!usable(from)) {
      from++;
      continue;
    }
    let to = from;
    const seconds = record.isSummary ? count : BLOCK_S;
    while (to < count && to - from < seconds && usable(to)) to++;
    if (to - from >= 6) {
      let [lengthM, speedSquaredM3, speedM2, riderJ, toldDoubtJ] = [0, 0, 0, 0, 0];
      for (let k = from; k < to; k++) {
        const v = speedMps[k]!;
        lengthM += v;
        speedSquaredM3 += v * v * v;
        speedM2 += v * v;
        riderJ += pedalled(k);
        if (isTold) toldDoubtJ += isUnseen(k) ? toldW / 2 : TOLD_DOUBT * pedalled(k);
      }
      const [v0, v1] = [atEnd(speedMps, from, 1, to), atEnd(speedMps, to - 1, -1, from)];
      const [h0, h1] = hasAltitude ? [atEnd(altitudeM, from, 1, to), atEnd(altitudeM, to - 1, -1, from)] : [0, 0];
      const heightM = hasAltitude && !Number.isNaN(h1 - h0) ? h1 - h0 : 0;
      const heightDoubtM = hasAltitude && !Number.isNaN(h1 - h0) ? noiseM : UNKNOWN_GRADE * lengthM;
      const speedDoubtJ =
        facts.totalMassKg * ROTATING_FACTOR * SPEED_DOUBT_MPS * Math.hypot(v0, v1) * (v0 === v1 ? 0.7 : 1);
      blocks.push({
        ride,
        from,
        to,
        lengthM,
        // Nobody rides evenly: the square of the speed is more than that of its mean.
        speedSquaredM3: speedSquaredM3 * (record.isSummary ? UNEVEN : 1),
        speedM2,
        riderJ,
        gainedJ: weight * heightM + 0.5 * facts.totalMassKg * ROTATING_FACTOR * (v1 * v1 - v0 * v0),
        endsN: Math.hypot(
          toldDoubtJ / lengthM,
          (weight * heightDoubtM + speedDoubtJ) / lengthM,
          record.isSummary ? UNSEEN_N : 0,
        ),
      });
    }
    from = to;
  }
  return blocks;
}

/** The motor's work over a block by its losses, J. */
export function motorWorkJ(record: RideRecord, { from, to }: MotionBlock, losses: DriveLosses): number {
  const { speedMps, powerW, motorC } = record;
  let work = 0;
  for (let k = from; k < to; k++)
    work += forceOfPower(powerW[k]!, speedMps[k]!, losses, copperAt(losses, speedMps[k]!, motorC[k]!)) * speedMps[k]!;
  return work;
}

/** At the outer edge of a second by the line through some seconds inwards; NaN where too few are there. */
export function atEnd(values: Float64Array, start: number, inwards: 1 | -1, stop: number, seconds = 5): number {
  let [n, sx, sy, sxx, sxy] = [0, 0, 0, 0, 0];
  for (let j = 0; j < seconds; j++) {
    const k = start + inwards * j;
    if ((inwards === 1 && k >= stop) || (inwards === -1 && k < stop)) break;
    const value = values[k]!;
    if (Number.isNaN(value)) continue;
    // Seconds from the edge: the middle of the first lies half a second in.
    const x = j + 0.5;
    n++;
    sx += x;
    sy += value;
    sxx += x * x;
    sxy += x * value;
  }
  if (n < 2) return n === 1 ? sy : NaN;
  const slope = (n * sxy - sx * sy) / (n * sxx - sx * sx);
  return (sy - slope * sx) / n;
}
