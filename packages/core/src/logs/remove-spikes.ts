import { estimateNoise, estimateResolution, findHampelOutliers } from '../signal/index.js';
import type { ChannelName } from './channels.js';

/** Least and greatest value that physics allows, in stored units; speed is 120 km/h. */
const BOUNDS: Partial<Record<ChannelName, readonly [number, number]>> = {
  // Half a metre a second below zero is the noise of a sensor at rest, not a spike.
  speed: [-0.5, 120 / 3.6],
  voltage: [0, 120],
  current: [-200, 200],
  power: [-24_000, 24_000],
  motorTemperature: [-30, 180],
  controllerTemperature: [-30, 180],
  batteryTemperature: [-30, 180],
  airTemperature: [-30, 60],
  cadence: [0, 250],
  heartRate: [20, 250],
  altitude: [-500, 9000],
  riderPower: [-50, 3000],
};
/** Quantities with inertia: one sample far from its neighbours is an error of the sensor. Current may really jump. */
const INERTIAL: ReadonlySet<ChannelName> = new Set([
  'speed',
  'altitude',
  'motorTemperature',
  'controllerTemperature',
  'batteryTemperature',
  'airTemperature',
  'heartRate',
  'stateOfCharge',
]);
const ELECTRICAL: ReadonlySet<ChannelName> = new Set(['voltage', 'current', 'power']);
const MAX_ACCELERATION_MPS2 = 6;
const HALF_WINDOW = 3;
const THRESHOLD = 3;
/** Noise beyond this many standard deviations is a spike; fewer would take ordinary noise for one. */
const NOISE_MULTIPLE = 6;
const NOISE_BLOCK = 200;
const MAX_BLOCKS = 200;
const LIVELY_QUANTILE = 0.8;

/**
 * Makes spikes missing samples, in place: what lies outside the bounds of physics, single samples far from their neighbours,
 * and a speed that goes there and back within two steps. Answers what was removed, in the order of time.
 */
export function removeSpikes(
  name: ChannelName,
  values: Float64Array,
  timeS: Float64Array,
  hasClock: boolean,
): { index: number; value: number }[] {
  const removed: { index: number; value: number }[] = [];
  const remove = (index: number): void => {
    removed.push({ index, value: values[index]! });
    values[index] = NaN;
  };
  const bounds = BOUNDS[name];
  if (bounds) for (let k = 0; k < values.length; k++) if (values[k]! < bounds[0] || values[k]! > bounds[1]) remove(k);
  if (INERTIAL.has(name) || ELECTRICAL.has(name)) {
    const floor = Math.max(NOISE_MULTIPLE * livelyNoise(values), 2.5 * estimateResolution(values));
    let outliers = findHampelOutliers(values, { halfWindow: HALF_WINDOW, threshold: THRESHOLD, floor });
    if (ELECTRICAL.has(name)) outliers = outliersBeyondTheRest(values, outliers);
    outliers.forEach(remove);
  }
  if (name === 'speed' && hasClock)
    for (let k = 1; k + 1 < values.length; k++) {
      const up = (values[k]! - values[k - 1]!) / (timeS[k]! - timeS[k - 1]!);
      const down = (values[k + 1]! - values[k]!) / (timeS[k + 1]! - timeS[k]!);
      // Only there and back at once is impossible; one steep step may be a sensor that woke up.
      if (up * down < 0 && Math.min(Math.abs(up), Math.abs(down)) > MAX_ACCELERATION_MPS2) remove(k);
    }
  return removed.sort((a, b) => a.index - b.index);
}

/** Of the outliers, single samples that lie beyond the range of all other samples by a fifth of it. */
function outliersBeyondTheRest(values: Float64Array, outliers: readonly number[]): number[] {
  if (outliers.length === 0) return [];
  const flagged = new Set(outliers);
  let least = Infinity;
  let greatest = -Infinity;
  values.forEach((value, k) => {
    if (Number.isNaN(value) || flagged.has(k)) return;
    if (value < least) least = value;
    if (value > greatest) greatest = value;
  });
  const margin = (greatest - least) / 5;
  return outliers.filter(
    (k) =>
      !flagged.has(k - 1) && !flagged.has(k + 1) && (values[k]! < least - margin || values[k]! > greatest + margin),
  );
}

/** Noise of the livelier parts of a log: at a standstill a sensor shows none, which says nothing of its noise in motion. */
function livelyNoise(values: Float64Array): number {
  const blocks = Math.max(1, Math.floor(values.length / NOISE_BLOCK));
  const every = Math.max(1, Math.ceil(blocks / MAX_BLOCKS));
  const noises: number[] = [];
  for (let block = 0; block < blocks; block += every) {
    const from = block * NOISE_BLOCK;
    noises.push(estimateNoise(values.subarray(from, block === blocks - 1 ? values.length : from + NOISE_BLOCK)));
  }
  return noises.sort((a, b) => a - b)[Math.floor(LIVELY_QUANTILE * (noises.length - 1))]!;
}
