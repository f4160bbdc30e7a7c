import type { CleanLog, Motion } from '../../logs/index.js';
import { refusal, success, type Outcome } from '../../errors/index.js';
import { median, scaledMedianAbsoluteDeviation } from '../../numeric/index.js';
import { estimateNoise } from '../../signal/index.js';
import { smoothSpeed, type SpeedReadings } from './smooth-speed.js';

/** What was felt, along the bike. */
export interface AlongBike {
  readonly timeS: Float64Array;
  /** Forwards, without what gravity adds on a slope, m/s². */
  readonly accelerationMps2: Float64Array;
  /** By the receiver (or the wheel) and what was felt together, m/s, and its standard uncertainty. */
  readonly speedMps: Float64Array;
  readonly speedErrorMps: Float64Array;
  /** Between the direction taken for forwards and the true one, degrees, standard uncertainty. */
  readonly angleErrorDeg: number;
  /** How late the speed is against what was felt, s. */
  readonly speedDelayS: number;
  readonly stepS: number;
  /** What shaking leaves of a mean over a second, m/s². */
  readonly shakingMps2: number;
}
export type NotAlong = 'no-speed' | 'no-gravity' | 'speed-hardly-changed' | 'moved-in-its-mount';

const GRAVITY = 9.80665;
/** What is felt is g in the middle but for the sensor's own error: a log without gravity in it is another quantity. */
const GRAVITY_WITHIN = 1.2;
/** Up by the first and by the second half of a ride: a mount that turned by more was touched, degrees. */
const TURNED_DEG = 12;
/** How late a reading of the speed is, and by how long a filter: a receiver smooths what it shows. */
const DELAYS_S = Array.from({ length: 19 }, (_, k) => -0.3 + 0.1 * k);
const FILTERS_S = [0, 0.3, 0.6, 1, 1.5];
/** Slopes change more slowly than this: what is felt of them is taken off, s. */
const SLOW_S = 15;
/** Below this correlation of what is felt with how the speed changes, forwards is not known. */
const LEAST_CORRELATION = 0.5;
const LEAST_CHANGES = 12;
const LEAST_FELT = 50;
/** A step between two speeds may be so long, s. */
const LONGEST_STEP_S = 2.5;

type Vector = readonly [number, number, number];

/**
 * Turns what a phone or box felt in its own axes into acceleration along the bike, however it is mounted.
 *
 * Method: up is the mean of a whole ride, which begins and ends standing. Between two readings of the speed the mean of what is felt across up
 * is held against how the speed changed: the direction in which both go together is forwards (covariances; noise of the speed makes both
 * components smaller alike and turns nothing), at that delay and filter of the speed with which they go together best. Then a Kalman filter and smoother
 * over speed and offset (smooth-speed.ts) put both together: the offset takes what gravity adds on slopes.
 * Fails: `no-speed`, `no-gravity` (the force at rest is not 1 g), `moved-in-its-mount`, `speed-hardly-changed`.
 */
export function alongBike(motion: Motion, log: Pick<CleanLog, 'channels' | 'timeS'>): Outcome<AlongBike, NotAlong> {
  const { timeS, force } = motion;
  const speed = readings(log.timeS, log.channels.speed);
  if (speed.timeS.length < LEAST_CHANGES) return refusal('no-speed');
  if (timeS.length < LEAST_FELT) return refusal('speed-hardly-changed');
  const middle = timeS.length >> 1;
  const halves = [meanForce(force, 0, middle), meanForce(force, middle, timeS.length)] as const;
  const whole = meanForce(force, 0, timeS.length);
  const g = Math.hypot(...whole);
  const usual = median(timeS.map((_, k) => Math.hypot(force[0][k]!, force[1][k]!, force[2][k]!)))!;
  if (Math.abs(usual - GRAVITY) > GRAVITY_WITHIN) return refusal('no-gravity');
  // As strong as ever and yet short in the mean: it points elsewhere than before.
  if (usual - g > GRAVITY_WITHIN || angleDeg(...halves) > TURNED_DEG) return refusal('moved-in-its-mount');
  const up = scaled(whole, 1 / g);
  const [first, second] = across(up);
  const felt = [runningSum(timeS, force, first), runningSum(timeS, force, second)] as const;
  const steps = stepsOf(speed);
  const best = FILTERS_S.flatMap((filterS) => {
    const shown = felt.map((column) => filtered(timeS, column, filterS)) as unknown as typeof felt;
    return DELAYS_S.map((delayS) => ({ ...forwards(steps, timeS, shown, delayS), delayS: delayS + filterS }));
  }).reduce((one, other) => (other.correlation > one.correlation ? other : one));
  if (steps.length < LEAST_CHANGES || !(best.correlation > LEAST_CORRELATION)) return refusal('speed-hardly-changed');
  const forward: Vector = [0, 1, 2].map((k) => best.cos * first[k]! + best.sin * second[k]!) as unknown as Vector;
  const raw = projected(force, forward);
  const shakingMps2 = shakingOf(timeS, raw, speed);
  const smooth = smoothSpeed(timeS, raw, speed, best.delayS, shakingMps2);
  return success({
    timeS,
    accelerationMps2: smooth.accelerationMps2,
    speedMps: smooth.speedMps,
    speedErrorMps: smooth.speedErrorMps,
    angleErrorDeg: best.angleErrorDeg,
    speedDelayS: best.delayS,
    shakingMps2,
    stepS: (timeS.at(-1)! - timeS[0]!) / Math.max(1, timeS.length - 1),
  });
}

/** A receiver's speed is never better than this, as if its errors were new each second, m/s. */
const LEAST_NOISE_MPS = 0.2;

function readings(timeS: Float64Array, speed: Float64Array | undefined): SpeedReadings {
  const kept: number[] = [];
  speed?.forEach((value, k) => {
    if (!Number.isNaN(value)) kept.push(k);
  });
  const mps = kept.map((k) => speed![k]!);
  const noise = mps.length > 3 ? estimateNoise(Float64Array.from(mps)) : LEAST_NOISE_MPS;
  return { timeS: kept.map((k) => timeS[k]!), mps, noiseMps: Math.min(0.5, Math.max(LEAST_NOISE_MPS, noise / 2)) };
}

/** Faster than this it is the road that shakes, m/s. */
const ROLLING_MPS = 3;
const LEAST_SHAKING = 0.01;

/** How much means over a second scatter while rolling: by their second differences, which an even push leaves at nought. */
function shakingOf(timeS: Float64Array, felt: Float64Array, speed: SpeedReadings): number {
  const bends: number[] = [];
  let [mean, before] = [NaN, NaN];
  let [total, count, from, reading] = [0, 0, timeS[0]!, 0];
  for (let k = 0; k < timeS.length; k++) {
    if (timeS[k]! - from >= 1) {
      const twoBefore = before;
      [before, mean] = [mean, total / count];
      while (reading < speed.timeS.length - 1 && speed.timeS[reading]! < from) reading++;
      if (speed.mps[reading]! > ROLLING_MPS) bends.push(mean - 2 * before + twoBefore);
      [total, count, from] = [0, 0, timeS[k]!];
    }
    total += felt[k]!;
    count++;
  }
  const spread = scaledMedianAbsoluteDeviation(bends.filter((one) => !Number.isNaN(one)));
  return Math.max(LEAST_SHAKING, (spread ?? 0) / Math.sqrt(6));
}

interface Step {
  readonly fromS: number;
  readonly toS: number;
  readonly mps2: number;
}
function stepsOf({ timeS, mps }: SpeedReadings): Step[] {
  const steps: Step[] = [];
  for (let k = 1; k < timeS.length; k++) {
    const [fromS, toS] = [timeS[k - 1]!, timeS[k]!];
    // Faster readings are taken together to half a second: their noise would drown the change.
    if (steps.length > 0 && toS - steps.at(-1)!.fromS < 0.5) {
      const last = steps.pop()!;
      const before = mps[k]! - (mps[k - 1]! - last.mps2 * (last.toS - last.fromS));
      steps.push({ fromS: last.fromS, toS, mps2: before / (toS - last.fromS) });
    } else if (toS - fromS <= LONGEST_STEP_S) steps.push({ fromS, toS, mps2: (mps[k]! - mps[k - 1]!) / (toS - fromS) });
  }
  return steps;
}

/** In which direction of the level what is felt goes with the speed's change. */
function forwards(
  steps: readonly Step[],
  timeS: Float64Array,
  felt: readonly [Float64Array, Float64Array],
  delayS: number,
): { cos: number; sin: number; correlation: number; angleErrorDeg: number; delayS: number } {
  const x: number[] = [];
  const y: number[] = [];
  const dv: number[] = [];
  const at: number[] = [];
  let cursor = 0;
  const integralTo = (column: Float64Array, index: number, t: number): number => {
    const a = timeS[index]!;
    const b = timeS[index + 1] ?? a;
    return b > a ? column[index]! + ((column[index + 1]! - column[index]!) * (t - a)) / (b - a) : column[index]!;
  };
  const indexOf = (t: number): number => {
    while (cursor > 0 && timeS[cursor]! > t) cursor--;
    while (cursor < timeS.length - 2 && timeS[cursor + 1]! <= t) cursor++;
    return cursor;
  };
  for (const { fromS, toS, mps2 } of steps) {
    const [a, b] = [fromS - delayS, toS - delayS];
    if (a < timeS[0]! || b > timeS.at(-1)!) continue;
    const i = indexOf(a);
    const starts = felt.map((column) => integralTo(column, i, a));
    const j = indexOf(b);
    // What was not felt for a while tells nothing of it.
    if (timeS[j]! - timeS[i]! < 0.5 * (b - a) || j - i < 2) continue;
    const ends = felt.map((column) => integralTo(column, j, b));
    x.push((ends[0]! - starts[0]!) / (b - a));
    y.push((ends[1]! - starts[1]!) / (b - a));
    dv.push(mps2);
    at.push((a + b) / 2);
  }
  const none = { cos: 1, sin: 0, correlation: -1, angleErrorDeg: 180, delayS };
  if (dv.length < LEAST_CHANGES) return none;
  const [hx, hy, hv] = [x, y, dv].map((values) => withoutSlow(at, values)) as [number[], number[], number[]];
  const sum = (a: readonly number[], b: readonly number[]): number => a.reduce((s, one, k) => s + one * b[k]!, 0);
  const [cx, cy] = [sum(hx, hv), sum(hy, hv)];
  const size = Math.hypot(cx, cy);
  if (size === 0) return none;
  const [cos, sin] = [cx / size, cy / size];
  const along = hx.map((value, k) => cos * value + sin * hy[k]!);
  const beside = hx.map((value, k) => cos * hy[k]! - sin * value);
  const correlation = sum(along, hv) / Math.sqrt(sum(along, along) * sum(hv, hv));
  // What is felt beside turns the direction by its own covariance with the change.
  const besideError = Math.sqrt((sum(beside, beside) / beside.length) * sum(hv, hv));
  return { cos, sin, correlation, delayS, angleErrorDeg: (besideError / size) * (180 / Math.PI) };
}

/** Less the mean of some seconds about it. */
function withoutSlow(atS: readonly number[], values: readonly number[]): number[] {
  let [from, to, total] = [0, 0, 0];
  return values.map((value, k) => {
    while (to < values.length && atS[to]! <= atS[k]! + SLOW_S) total += values[to++]!;
    while (atS[from]! < atS[k]! - SLOW_S) total -= values[from++]!;
    return value - total / (to - from);
  });
}

function meanForce(force: Motion['force'], from: number, to: number): Vector {
  return force.map((column) => {
    let total = 0;
    for (let k = from; k < to; k++) total += column[k]!;
    return total / Math.max(1, to - from);
  }) as unknown as Vector;
}
function projected(force: Motion['force'], [a, b, c]: Vector): Float64Array {
  const [x, y, z] = force;
  return x.map((value, k) => a * value + b * y[k]! + c * z[k]!);
}
/** ∫ of the force along a direction, by trapezoid; over a hole of a second nothing. */
function runningSum(timeS: Float64Array, force: Motion['force'], direction: Vector): Float64Array {
  const values = projected(force, direction);
  let total = 0;
  return values.map((value, k) => {
    if (k > 0) {
      const dt = timeS[k]! - timeS[k - 1]!;
      if (dt < 1) total += ((value + values[k - 1]!) / 2) * dt;
    }
    return total;
  });
}
/** As a filter of first order shows it: for a steady change so many seconds late. */
function filtered(timeS: Float64Array, values: Float64Array, filterS: number): Float64Array {
  if (filterS === 0) return values;
  let shown = values[0] ?? 0;
  return values.map((value, k) => {
    if (k > 0) shown += (value - shown) * (1 - Math.exp((timeS[k - 1]! - timeS[k]!) / filterS));
    return shown;
  });
}
/** Two directions across a unit vector and each other. */
function across(up: Vector): [Vector, Vector] {
  const [a, b, c] = up;
  const other: Vector = Math.abs(a) < 0.6 ? [1, 0, 0] : [0, 1, 0];
  const inUp = other[0] * a + other[1] * b + other[2] * c;
  const flat: Vector = [other[0] - inUp * a, other[1] - inUp * b, other[2] - inUp * c];
  const first = scaled(flat, 1 / Math.hypot(...flat));
  return [first, [b * first[2] - c * first[1], c * first[0] - a * first[2], a * first[1] - b * first[0]]];
}
function scaled([a, b, c]: Vector, by: number): Vector {
  return [a * by, b * by, c * by];
}
function angleDeg(a: Vector, b: Vector): number {
  const cos = (a[0] * b[0] + a[1] * b[1] + a[2] * b[2]) / (Math.hypot(...a) * Math.hypot(...b));
  return (Math.acos(Math.min(1, Math.max(-1, cos))) * 180) / Math.PI;
}
