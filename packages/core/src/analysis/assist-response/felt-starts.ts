import { firstAtOrAfter } from '../../numeric/index.js';
import { fromLimit } from '../figure.js';
import type { AlongBike } from '../motion/along-bike.js';
import { fitRamp } from '../motion/fit-ramp.js';
import { meanWithin } from '../motion/mean-within.js';

const STANDING_MPS = 0.7;
const RIDING_MPS = 2.5;
/** Standing for so long before it, a start is one, s. */
const QUIET_S = 1.2;
/** A weak push takes so long until the bike is seen to roll, s. */
const UNSEEN_S = 4;
/** Quiet before that, s. */
const LOOKED_BACK_S = 7;
/** What the brake leaves in the springs is over after this, s. */
const SETTLED_S = 0.5;
/** What is felt is taken over this long, s: shaking goes, an edge stays. */
export const EDGE_S = 0.2;
/** Where in a push that grows its beginning is said to be, s. */
export const EDGE_LIMIT_S = 0.15;
const PUSH_WITHIN_S = 5;
const STOP_FROM_MPS = 10 / 3.6;
const STOP_TO_MPS = 3 / 3.6;
/** Slower than this is rolling out, not braking, m/s². */
const LEAST_BRAKING_MPS2 = 1;
const BRAKE_BITES_MPS2 = 0.5;

/** A start as it was felt: times in s, paces and pushes in m/s², and standard errors of them. */
export interface FeltStart {
  readonly startS: number;
  readonly endS: number;
  readonly time0to20: number | null;
  readonly time0to25: number | null;
  readonly paceAt20: number | null;
  readonly paceAt25: number | null;
  readonly speedError: number;
  readonly peakAcceleration: number;
  readonly pushRise: number;
  readonly startErrorS: number;
  readonly riseErrorS: number;
}
/** A stop from where the brake bites to 3 km/h: mean deceleration in m/s², and its standard error. */
export interface FeltStop {
  readonly fromS: number;
  readonly toS: number;
  readonly mps2: number;
  readonly errorMps2: number;
}

/** When the bike stood, and when it left that for good. */
export interface Standstill {
  readonly stoodFromS: number;
  readonly leftS: number;
}

/** Standstills that a start follows. */
export function startsOf({ timeS, speedMps }: AlongBike): Standstill[] {
  const starts: Standstill[] = [];
  let [stoodFromS, leftS] = [NaN, NaN];
  for (let k = 0; k < timeS.length; k++) {
    const [t, v] = [timeS[k]!, speedMps[k]!];
    if (v < STANDING_MPS) {
      if (Number.isNaN(stoodFromS)) stoodFromS = t;
      leftS = t;
    } else if (v >= RIDING_MPS) {
      if (leftS - stoodFromS >= QUIET_S) starts.push({ stoodFromS, leftS });
      stoodFromS = NaN;
    }
  }
  return starts;
}

/** The standstill before a moment that a tester set. */
export function standstillBefore({ timeS, speedMps }: AlongBike, atS: number): Standstill {
  let k = Math.min(timeS.length, firstAtOrAfter(timeS, atS)) - 1;
  while (k > 0 && speedMps[k - 1]! < STANDING_MPS) k--;
  return { stoodFromS: timeS[Math.max(0, k)] ?? atS, leftS: atS };
}

/** The start that leaves a standstill; undefined where nothing pushes. */
export function startAt(
  along: AlongBike,
  push: Float64Array,
  { stoodFromS, leftS }: Standstill,
): FeltStart | undefined {
  const { timeS, speedMps, speedErrorMps } = along;
  const at = (t: number): number => firstAtOrAfter(timeS, t);
  const stillS = Math.min(stoodFromS + SETTLED_S, leftS - QUIET_S);
  const beginsFromS = Math.max(stillS, leftS - UNSEEN_S);
  const quietFrom = at(Math.max(stillS, leftS - LOOKED_BACK_S));
  // Where it stood no longer, the first of it has to do.
  const quietTo = Math.max(at(beginsFromS), at(timeS[quietFrom]! + SETTLED_S));
  if (quietTo - quietFrom < 5) return undefined;
  const quiet = push.subarray(quietFrom, quietTo);
  const base = quiet.reduce((sum, one) => sum + one, 0) / quiet.length;
  const points = binned(timeS, along.accelerationMps2, timeS[quietFrom]!, leftS + PUSH_WITHIN_S).map(
    ([t, value]) => [t, value - base] as const,
  );
  const ramp = fitRamp(
    points.map(([t]) => t),
    points.map(([, value]) => value),
    beginsFromS,
    leftS + 1,
  );
  if (!ramp) return undefined;
  const { startS } = ramp;
  const begins = at(startS);
  let to = begins;
  for (let k = begins; k < timeS.length && timeS[k]! - startS < LONGEST_START_S; k++) {
    if (timeS[k]! - startS > 2 && speedMps[k]! < STANDING_MPS) break;
    if (speedMps[k]! > speedMps[to]!) to = k;
  }
  const reach = (kmh: number): { s: number; pace: number; error: number } | null => {
    // A speed that was hardly reached, if at all, was reached at no time.
    if (speedMps[to]! - speedErrorMps[to]! < kmh / 3.6) return null;
    for (let k = begins; k <= to; k++)
      if (speedMps[k]! >= kmh / 3.6)
        return {
          s: timeS[k]! - startS,
          pace: meanBetween(push, at(timeS[k]! - 0.5), at(timeS[k]! + 0.5)),
          error: speedErrorMps[k]!,
        };
    return null;
  };
  const [to20, to25] = [reach(20), reach(25)];
  const second = meanWithin(timeS, along.accelerationMps2, 1);
  let peakAcceleration = 0;
  for (let k = begins; k <= to; k++) peakAcceleration = Math.max(peakAcceleration, second[k]!);
  return {
    startS,
    endS: timeS[to]!,
    time0to20: to20?.s ?? null,
    time0to25: to25?.s ?? null,
    paceAt20: to20?.pace ?? null,
    paceAt25: to25?.pace ?? null,
    speedError: (to25 ?? to20)?.error ?? 0,
    peakAcceleration,
    pushRise: 0.8 * ramp.lengthS,
    startErrorS: ramp.startErrorS,
    riseErrorS: 0.8 * ramp.lengthErrorS,
  };
}
const LONGEST_START_S = 40;

/** Means over a twentieth of a second. */
function binned(timeS: Float64Array, values: Float64Array, fromS: number, toS: number): [number, number][] {
  const points: [number, number][] = [];
  for (let k = firstAtOrAfter(timeS, fromS); k < timeS.length && timeS[k]! < toS;) {
    const beganS = timeS[k]!;
    let [total, count, times] = [0, 0, 0];
    for (; k < timeS.length && timeS[k]! - beganS < BIN_S; k++) {
      total += values[k]!;
      times += timeS[k]!;
      count++;
    }
    points.push([times / count, total / count]);
  }
  return points;
}
const BIN_S = 0.05;

/** Stops on the brake from 10 km/h or more. */
export function stopsOf({ timeS, speedMps, speedErrorMps }: AlongBike, push: Float64Array): FeltStop[] {
  const stops: FeltStop[] = [];
  let isFast = false;
  for (let k = 1; k < timeS.length; k++) {
    if (speedMps[k]! >= STOP_FROM_MPS) isFast = true;
    if (!isFast || speedMps[k]! >= STOP_TO_MPS) continue;
    isFast = false;
    let from = k;
    while (from > 0 && push[from]! < -BRAKE_BITES_MPS2) from--;
    const seconds = timeS[k]! - timeS[from]!;
    const mps2 = (speedMps[from]! - speedMps[k]!) / seconds;
    if (speedMps[from]! < STOP_FROM_MPS || !(mps2 >= LEAST_BRAKING_MPS2)) continue;
    const errorMps2 = Math.hypot(speedErrorMps[from]!, speedErrorMps[k]!, mps2 * fromLimit(EDGE_LIMIT_S)) / seconds;
    stops.push({ fromS: timeS[from]!, toS: timeS[k]!, mps2, errorMps2 });
  }
  return stops;
}

function meanBetween(values: Float64Array, from: number, to: number): number {
  let total = 0;
  for (let k = from; k < to; k++) total += values[k]!;
  return to > from ? total / (to - from) : NaN;
}
