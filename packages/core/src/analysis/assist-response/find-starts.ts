import type { CleanLog } from '../../logs/index.js';
import { estimateNoise, estimateResolution, fitLocalLines, presentSamples } from '../../signal/index.js';
import { fromResolution } from '../figure.js';
import { firstAtOrAfter } from '../../numeric/index.js';
import { fitLine } from '../uneven-scatter.js';
import { plateauOf } from './assist-ends.js';

/** One start under assistance and how it ended; null where the log does not show it. */
export interface ResponseEvent {
  /** Pedalling (or throttle) begins. */
  readonly startS: number;
  readonly endS: number;
  /** The last pedalling, which an edge of the start's span marks. */
  readonly lastPedalS: number;
  readonly latency: number | null;
  /** Degrees the crank turned before help came. */
  readonly crankTurn: number | null;
  readonly riseTime: number | null;
  readonly overrun: number | null;
  readonly overrunM: number | null;
  readonly brakeCutoff: number | null;
  readonly time0to20: number | null;
  readonly time0to25: number | null;
  /** m/s² there: how much earlier a wheel that shows too much is at that speed. */
  readonly paceAt20: number | null;
  readonly paceAt25: number | null;
  /** m/s², the greatest over one second of the start, and the standard error of that line's slope. */
  readonly peakAcceleration: number | null;
  readonly accelerationError: number | null;
  readonly endsBy: 'pedalling stops' | 'brake' | 'end of the log';
}
const NOISE_MULTIPLE = 5;
const OFF_SHARE = 0.05;
/** The plateau of a start is looked for in this time after pedalling begins. */
const PLATEAU_WITHIN_S = 6;
const STANDING_MPS = 0.5;
const SPEED_LINE_S = 0.3;
const PACE_S = 0.5;
/** A speed that falls back later than this has been reached all the same. */
const CROSSING_S = 1;
const GIVE_UP_S = 3;
const QUIET_BEFORE_S = 1;
const MIN_ACTIVE_S = 1;
/** The line through a second of the speed: shorter ones follow the wheel sensor's own steps. */
const ACCELERATION_LINE_S = 1;

/** Samples of a start, from the first under pedalling (or throttle) to the last. */
export interface Pulse {
  readonly from: number;
  readonly to: number;
}

/** When help came after a start, how it rose, and how it ended: `power` in W at the log's own times. */
export function readStart(log: CleanLog, power: Float64Array, { from, to }: Pulse): ResponseEvent {
  const { timeS } = log;
  const { cadence, brake, speed } = log.channels;
  const { medianStepS } = log.report;
  const startS = timeS[from]!;
  const stopS = timeS[to]!;
  const quiet = slice(power, firstAtOrAfter(timeS, startS - QUIET_BEFORE_S), from);
  const base = quiet.length > 0 ? quiet.reduce((sum, one) => sum + one, 0) / quiet.length : 0;
  const spread = Math.sqrt(quiet.reduce((sum, one) => sum + (one - base) ** 2, 0) / Math.max(1, quiet.length - 1));
  const plateau = plateauOf(timeS, power, from, Math.min(to, firstAtOrAfter(timeS, startS + PLATEAU_WITHIN_S)));
  const threshold = Math.max(base + NOISE_MULTIPLE * spread, base + OFF_SHARE * (plateau - base));
  const helpAt =
    plateau > base + NOISE_MULTIPLE * spread ? firstLasting(power, from, to, (w) => w > threshold) : undefined;
  const brakeAt = brake
    ? firstIn(from, Math.min(power.length, to + Math.round(GIVE_UP_S / medianStepS)), (k) => brake[k]! > 0.5)
    : undefined;
  const isBraked = brakeAt !== undefined && timeS[brakeAt]! <= stopS + 2 * medianStepS;
  const isLast = to >= power.length - 2;
  const endIndex = isBraked ? brakeAt : to + 1;
  const off = base + OFF_SHARE * (plateau - base);
  const wasHelped = helpAt !== undefined && !isLast && power[Math.min(endIndex, power.length - 1)]! > off;
  const goneAt = wasHelped
    ? firstLasting(
        power,
        endIndex,
        Math.min(power.length - 1, endIndex + Math.round(GIVE_UP_S / medianStepS)),
        (w) => w < off,
      )
    : undefined;
  const goneS = goneAt === undefined ? null : timeS[goneAt]! - timeS[endIndex]!;
  const rise = helpAt === undefined ? null : riseTime(timeS, power, from, to, base, plateau);
  const timeTo = speed ? timesTo(timeS, speed, from, to) : undefined;
  const [to20, to25] = [20, 25].map((kmh) => timeTo?.(kmh / 3.6) ?? null);
  const hardest = speed ? hardestSecond(timeS, speed, from, to) : null;
  return {
    startS,
    endS: timeS[Math.min(endIndex, timeS.length - 1)]!,
    lastPedalS: stopS,
    latency: helpAt === undefined ? null : timeS[helpAt]! - startS,
    crankTurn: helpAt === undefined || !cadence ? null : crankDegrees(timeS, cadence, from, helpAt),
    riseTime: rise,
    overrun: isBraked ? null : goneS,
    overrunM:
      isBraked || goneS === null || !speed ? null : goneS * (speed[Math.min(endIndex, speed.length - 1)] ?? NaN),
    brakeCutoff: isBraked ? goneS : null,
    time0to20: to20?.seconds ?? null,
    time0to25: to25?.seconds ?? null,
    paceAt20: to20?.paceMps2 ?? null,
    paceAt25: to25?.paceMps2 ?? null,
    peakAcceleration: hardest?.slope ?? null,
    accelerationError: hardest?.error ?? null,
    endsBy: isBraked ? 'brake' : isLast ? 'end of the log' : 'pedalling stops',
  };
}

/** Spans in which the drive is on, begun after a second of quiet and lasting a second or more. */
export function pulsesOf(timeS: Float64Array, length: number, isOn: (k: number) => boolean): Pulse[] {
  const pulses: Pulse[] = [];
  let from = -1;
  let lastOn = -1;
  for (let k = 0; k < length; k++) {
    if (!isOn(k)) continue;
    if (lastOn < 0 || timeS[k]! - timeS[lastOn]! > QUIET_BEFORE_S / 2) {
      if (from >= 0) pulses.push({ from, to: lastOn });
      from = k;
    }
    lastOn = k;
  }
  if (from >= 0) pulses.push({ from, to: lastOn });
  return pulses.filter(
    ({ from: a, to: b }) =>
      a > 0 && timeS[a]! - timeS[0]! >= QUIET_BEFORE_S / 2 && timeS[b]! - timeS[a]! >= MIN_ACTIVE_S,
  );
}

/** Cranks turned lightly for longer than this before the real pedalling are told apart from its first samples, s. */
const GHOST_S = 0.6;
/** Light turning has less than this share of the pace that pedalling settles to, real pedalling more than the other. */
const LIGHT_SHARE = 0.5;
const REAL_SHARE = 0.8;
/** From the one to the other at once, without the bike going faster by as much: in a gear both would rise together. */
const AT_ONCE_S = 0.45;
const SETTLED_WITHIN_S = 6;

/**
 * A start before which the cranks were turned lightly begins where the pace of the pedals leaps to what it settles to: while the bike
 * gains speed in one gear the pace rises with it, and leaps nowhere.
 */
export function withoutGhost(timeS: Float64Array, cadence: Float64Array, speed: Float64Array, pulse: Pulse): Pulse {
  const { from, to } = pulse;
  const later = slice(
    cadence,
    firstAtOrAfter(timeS, timeS[from]! + GHOST_S),
    firstAtOrAfter(timeS, timeS[from]! + SETTLED_WITHIN_S),
  );
  const settled = later.sort((a, b) => a - b)[Math.floor(0.75 * later.length)] ?? 0;
  let light = from;
  for (let k = from; k <= to && timeS[k]! - timeS[from]! < SETTLED_WITHIN_S; k++) {
    if (cadence[k]! < LIGHT_SHARE * settled) light = k;
    else if (cadence[k]! > REAL_SHARE * settled) {
      const isLate = timeS[k]! - timeS[from]! > GHOST_S;
      const isLeap = timeS[k]! - timeS[light]! < AT_ONCE_S;
      const gained = (speed[k]! + SLOW_MPS) / (speed[light]! + SLOW_MPS);
      return isLate && isLeap && gained < 1.3 ? { from: k, to } : pulse;
    }
  }
  return pulse;
}
/** So that a ratio of two standstills is one. */
const SLOW_MPS = 0.2;

function slice(values: Float64Array, from: number, to: number): number[] {
  return Array.from(values.subarray(from, to)).filter((value) => !Number.isNaN(value));
}

/** First sample from which the condition holds for three samples: one alone is noise. */
function firstLasting(
  power: Float64Array,
  from: number,
  to: number,
  holds: (watts: number) => boolean,
): number | undefined {
  for (let k = from; k <= to && k < power.length; k++) {
    let lasting = 0;
    while (lasting < 3 && k + lasting < power.length && holds(power[k + lasting]!)) lasting++;
    if (lasting === 3) return k;
  }
  return undefined;
}

function firstIn(from: number, to: number, holds: (k: number) => boolean): number | undefined {
  for (let k = from; k < to; k++) if (holds(k)) return k;
  return undefined;
}

function riseTime(
  timeS: Float64Array,
  power: Float64Array,
  from: number,
  to: number,
  base: number,
  plateau: number,
): number | null {
  const cross = (share: number): number | undefined =>
    firstLasting(power, from, to, (watts) => watts > base + share * (plateau - base));
  const [low, high] = [cross(0.1), cross(0.9)];
  return low === undefined || high === undefined || high <= low ? null : timeS[high]! - timeS[low]!;
}

/** Degrees: 1/min are 6 degrees a second. */
function crankDegrees(timeS: Float64Array, cadence: Float64Array, from: number, to: number): number {
  let degrees = 0;
  for (let k = from + 1; k <= to; k++) degrees += 3 * (cadence[k]! + cadence[k - 1]!) * (timeS[k]! - timeS[k - 1]!);
  return degrees;
}

/** Times from the start of pedalling, at a standstill, until speeds are reached; null where one is not. Undefined where the bike did not stand. */
function timesTo(
  timeS: Float64Array,
  speed: Float64Array,
  from: number,
  to: number,
): ((wanted: number) => { seconds: number; paceMps2: number } | null) | undefined {
  if (!(speed[from]! < STANDING_MPS)) return undefined;
  const { x: times, y } = presentSamples(timeS, speed, from, to);
  const { level } = fitLocalLines(times, y, SPEED_LINE_S);
  return (wanted) => {
    const first = level.findIndex((value) => value >= wanted);
    if (first < 0) return null;
    // Noise crosses a slowly rising line early and again: between the first time above and the last time below lies the crossing.
    let last = first;
    for (let k = first; k < level.length && times[k]! - times[first]! < CROSSING_S; k++)
      if (level[k]! < wanted) last = k + 1;
    const above = Math.min(last, times.length - 1);
    const seconds = (times[first]! + times[above]!) / 2 - timeS[from]!;
    return { seconds, paceMps2: paceAt(timeS, speed, from, timeS[from]! + seconds) };
  };
}

/** Slope of the speed over a second about a time, m/s². */
function paceAt(timeS: Float64Array, speed: Float64Array, from: number, atS: number): number {
  let first = from;
  while (first < speed.length && timeS[first]! < atS - PACE_S) first++;
  let last = first;
  while (last + 1 < speed.length && timeS[last + 1]! <= atS + PACE_S) last++;
  const { x, y } = presentSamples(timeS, speed, first, last);
  return fitLine(x, y)?.slope ?? NaN;
}

/** The steepest line through one second of the speed, m/s²; null where the start is shorter. */
function hardestSecond(
  timeS: Float64Array,
  speed: Float64Array,
  from: number,
  to: number,
): { slope: number; error: number } | null {
  const { x: times, y: values } = presentSamples(timeS, speed, from, to);
  const { slope } = fitLocalLines(times, values, ACCELERATION_LINE_S);
  const lastS = times.at(-1) ?? timeS[from]!;
  const perLine = (times.length * ACCELERATION_LINE_S) / (lastS - timeS[from]!);
  const noise = Math.max(estimateNoise(values), fromResolution(estimateResolution(values)));
  // The speed bends within the second; only its noise leaves the line's slope open.
  const error = (noise * Math.sqrt(12 / perLine)) / ACCELERATION_LINE_S;
  let greatest = 0;
  for (let k = 0; k < times.length; k++) {
    const isWhole = times[k]! - timeS[from]! >= ACCELERATION_LINE_S / 2 && lastS - times[k]! >= ACCELERATION_LINE_S / 2;
    if (isWhole) greatest = Math.max(greatest, slope[k]!);
  }
  return greatest > 0 && Number.isFinite(error) ? { slope: greatest, error } : null;
}
