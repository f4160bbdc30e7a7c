import type { ChannelColumns } from '../../logs/index.js';
import { estimateNoise } from '../../signal/index.js';

/** A current this many standard deviations of its noise below zero is regeneration, not noise. */
const REGENERATION_NOISE_MULTIPLE = 3;

export interface Regeneration {
  /** Fed back to the battery, J, positive. */
  readonly energyJ: number;
  /** What the straight-line integral of the power must be changed by, now that the edges of the pulses are placed, J. */
  readonly netCorrectionJ: number;
  /** Standard uncertainty from not knowing where between two samples a pulse began or ended, J. */
  readonly edgeUncertaintyJ: number;
  /** Standard uncertainty from the noise of the readings that were summed, and of those that might as well have been, J. */
  readonly noiseUncertaintyJ: number;
  /** ∫ V dt over the pulses, V·h: what an offset of the current makes of them. */
  readonly voltHours: number;
  /** The most that could lie within the noise about zero while the battery is idle, J. */
  readonly hiddenJ: number;
  /** ∫ V dt while it is idle, V·h. */
  readonly idleVoltHours: number;
}

/**
 * Energy fed back to the battery.
 *
 * Regeneration switches on and off between two samples, so a straight line between them is wrong: the switch is placed
 * where the speed's two slopes meet if the bike begins to slow down there, else in the middle of the step.
 * A sample counts only where the current (or power) is below zero beyond its noise; else noise about zero would be rectified.
 */
export function regeneratedEnergy(
  timeS: Float64Array,
  powerW: Float64Array,
  { current, speed, throttle, voltage }: Pick<ChannelColumns, 'current' | 'speed' | 'throttle' | 'voltage'>,
  gapLimitS: number,
): Regeneration {
  const signal = current ?? powerW;
  const noise = noiseAtRest(signal, { speed, throttle });
  const threshold = -REGENERATION_NOISE_MULTIPLE * noise;
  const isFedBack = fedBackTest(timeS, signal, noise);
  let energyJ = 0;
  let netCorrectionJ = 0;
  let edgeVariance = 0;
  let noiseVariance = 0;
  let voltSeconds = 0;
  let [hiddenJ, idleVoltSeconds] = [0, 0];
  let last = -1;
  let isBefore = false;
  for (let k = 0; k < powerW.length; k++) {
    const b = powerW[k]!;
    if (Number.isNaN(b)) continue;
    const from = last;
    const wasBefore = isBefore;
    const isAfter = isFedBack(k);
    last = k;
    isBefore = isAfter;
    if (from < 0) continue;
    const a = powerW[from]!;
    const step = timeS[k]! - timeS[from]!;
    if (step <= gapLimitS && Math.abs(signal[k]!) <= -threshold) {
      hiddenJ -= threshold * (current ? voltage?.[k] || 0 : 1) * step;
      idleVoltSeconds += (voltage?.[k] || 0) * step;
    }
    if (step > gapLimitS || !(wasBefore || isAfter)) continue;
    noiseVariance +=
      (noise * (current ? voltage?.[k] || 0 : 1) * step) ** 2 * (wasBefore && isAfter ? 1 : UNSURE_SAMPLES);
    voltSeconds += (voltage?.[k] || 0) * step * (wasBefore && isAfter ? 1 : 0.5);
    if (wasBefore && isAfter) {
      energyJ -= ((a + b) / 2) * step;
      continue;
    }
    const located = isAfter && speed ? findKink(timeS, speed, from, k) : undefined;
    const share = located ?? 0.5;
    const regenerating = isAfter ? b : a;
    const driving = Math.max(0, isAfter ? a : b);
    energyJ -= regenerating * share * step;
    netCorrectionJ += regenerating * share * step + driving * (1 - share) * step - ((a + b) / 2) * step;
    edgeVariance += ((driving - regenerating) * step * (located === undefined ? UNKNOWN_EDGE : LOCATED_EDGE)) ** 2;
  }
  return {
    energyJ,
    netCorrectionJ,
    edgeUncertaintyJ: Math.sqrt(edgeVariance),
    noiseUncertaintyJ: Math.sqrt(noiseVariance),
    voltHours: voltSeconds / 3600,
    hiddenJ,
    idleVoltHours: idleVoltSeconds / 3600,
  };
}

/** Samples at an edge that noise may put on either side of it. */
const UNSURE_SAMPLES = 4;
/** Braking lasts longer than this; its mean over so long stands out where single readings do not. */
const SMOOTHED_S = 0.8;

/**
 * Whether a sample was fed back: below zero beyond the noise by itself, or in the mean of its neighbours. In that mean readings
 * that the noise lifted above zero count too, else only the lower half of the noise would be summed.
 */
function fedBackTest(timeS: Float64Array, signal: Float64Array, noise: number): (k: number) => boolean {
  const least = -REGENERATION_NOISE_MULTIPLE * noise;
  const step = (timeS.at(-1)! - timeS[0]!) / Math.max(1, timeS.length - 1);
  const half = Math.floor(SMOOTHED_S / step / 2);
  if (half < 1 || noise === 0) return (k) => signal[k]! < least;
  // Sums up to each sample: a mean is a difference. A window with a sample missing tells nothing.
  const sums = new Float64Array(signal.length + 1);
  const missing = new Uint32Array(signal.length + 1);
  for (let k = 0; k < signal.length; k++) {
    const isMissing = Number.isNaN(signal[k]!);
    sums[k + 1] = sums[k]! + (isMissing ? 0 : signal[k]!);
    missing[k + 1] = missing[k]! + (isMissing ? 1 : 0);
  }
  const meanFrom = (from: number, count: number): number =>
    from < 0 || from + count > signal.length || missing[from + count] !== missing[from]
      ? NaN
      : (sums[from + count]! - sums[from]!) / count;
  const window = 2 * half + 1;
  const leastMean = least / Math.sqrt(window);
  return (k) => {
    const value = signal[k]!;
    if (value < least) return true;
    if (!(value < -least)) return false;
    // Before it, about it, after it: at the end of a pulse one of them lies wholly within.
    return (
      meanFrom(k - half, window) < leastMean ||
      meanFrom(k, window) < leastMean ||
      meanFrom(k - 2 * half, window) < leastMean
    );
  };
}

/** Readings that tell a noise. */
const MIN_AT_REST = 50;
const THROTTLE_RESTS = 0.02;
const STANDING_MPS = 0.1;

/**
 * Noise of the sensor itself: where the throttle rests or the bike stands the load's own wavering is not in it. The least of what is
 * there; of the whole signal where neither is seen for long.
 */
function noiseAtRest(
  signal: Float64Array,
  { speed, throttle }: { [name in 'speed' | 'throttle']: Float64Array | undefined },
): number {
  const where = (rests: (k: number) => boolean): number => {
    let count = 0;
    const kept = new Float64Array(signal.length).fill(NaN);
    for (let k = 0; k < signal.length; k++) {
      if (!rests(k)) continue;
      kept[k] = signal[k]!;
      count++;
    }
    return count < MIN_AT_REST ? Infinity : estimateNoise(kept);
  };
  return Math.min(
    throttle ? where((k) => throttle[k]! < THROTTLE_RESTS) : Infinity,
    speed ? where((k) => speed[k]! < STANDING_MPS) : Infinity,
    estimateNoise(signal),
  );
}

/** Standard uncertainty of an edge, as a share of the step: anywhere in it (1/√12), or found from the speed. */
const UNKNOWN_EDGE = 1 / Math.sqrt(12);
const LOCATED_EDGE = 0.15;
/** A change of slope below this is no braking, m/s². */
const KINK_MPS2 = 0.4;

/** Share of the step [from, k] after the point where the speed's slopes before and after it meet; undefined without a kink. */
function findKink(timeS: Float64Array, speed: Float64Array, from: number, k: number): number | undefined {
  if (from < 1 || k + 1 >= speed.length) return undefined;
  const before = (speed[from]! - speed[from - 1]!) / (timeS[from]! - timeS[from - 1]!);
  const after = (speed[k + 1]! - speed[k]!) / (timeS[k + 1]! - timeS[k]!);
  if (!(before - after > KINK_MPS2)) return undefined;
  const step = timeS[k]! - timeS[from]!;
  const share = (speed[from]! + before * step - speed[k]!) / (before - after) / step;
  return Math.min(1, Math.max(0, share));
}
