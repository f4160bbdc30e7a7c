import { median } from '../numeric/index.js';
import { estimateNoise, estimateResolution, findHampelOutliers } from '../signal/index.js';
import { CHANNEL_NAMES, type ChannelColumns, type ChannelName } from './channels.js';
import { haversineM } from './haversine.js';
import { repairClock, type ClockStep } from './repair-clock.js';
import { longestIncreasing } from './increasing-subsequence.js';
import { LogProblemError, catchLogProblem, type LogOutcome } from './log-problem.js';
import type { RawLog, UnreadableCells } from './raw-log.js';
import { compareSpeeds, type SpeedComparison } from './compare-speeds.js';

export interface Gap {
  readonly startS: number;
  readonly endS: number;
}
export interface RemovedSpikes {
  readonly channel: ChannelName;
  readonly count: number;
  /** The first 500, in stored units. */
  readonly timesS: readonly number[];
  readonly values: readonly number[];
}
export interface StuckSpan extends Gap {
  readonly channel: ChannelName;
}
export interface CleaningReport {
  readonly samplesRead: number;
  readonly samplesKept: number;
  /** Samples whose time was missing, went backwards or stood still. */
  readonly droppedTimes: number;
  /** Where the clock was set back; the times after it were moved on. */
  readonly clockSteps?: readonly ClockStep[];
  readonly unreadable: readonly UnreadableCells[];
  readonly raggedRecords: number;
  readonly ignoredColumns: readonly string[];
  readonly medianStepS: number;
  /** Steps longer than this are gaps. */
  readonly gapLimitS: number;
  readonly gaps: readonly Gap[];
  readonly spikes: readonly RemovedSpikes[];
  readonly positionJumps: number;
  readonly stuck: readonly StuckSpan[];
  /** Wheel speed against position speed, where both are there. */
  readonly speedComparison?: SpeedComparison;
}
export interface CleanLog {
  readonly timeS: Float64Array;
  readonly hasClock: boolean;
  readonly startEpochS?: number;
  readonly channels: ChannelColumns;
  readonly report: CleaningReport;
}

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
const STUCK_S = 60;
const MAX_GPS_SPEED_MPS = 45;
const KEPT_EXAMPLES = 500;

/**
 * Cleans a raw log: each step counted, raw data untouched. Spikes become missing samples, gaps are marked, never bridged.
 *
 * Electrical channels lose a single sample only where it also lies outside all that the rest of the log shows: current
 * may really jump for one sample, speed and temperature may not.
 * Fails: `no-samples` when fewer than two samples have a usable time.
 */
export function cleanLog(raw: RawLog): LogOutcome<CleanLog> {
  return catchLogProblem(() => {
    const clock = raw.hasClock ? repairClock(raw.timeS, usualStep(raw.timeS)) : { timeS: raw.timeS, steps: [] };
    const kept = longestIncreasing(clock.timeS);
    if (kept.length < 2)
      throw new LogProblemError({
        code: 'no-samples',
        message:
          'Fewer than two samples have a time that can be used. Check which column holds the time, and its unit.',
      });
    const timeS = Float64Array.from(kept, (k) => clock.timeS[k]!);
    const originS = timeS[0]!;
    for (let k = 0; k < timeS.length; k++) timeS[k]! -= originS;
    const channels: ChannelColumns = {};
    for (const name of CHANNEL_NAMES) {
      const values = raw.channels[name];
      if (values)
        channels[name] = kept.length === values.length ? values.slice() : Float64Array.from(kept, (k) => values[k]!);
    }
    const steps = Float64Array.from({ length: timeS.length - 1 }, (_, k) => timeS[k + 1]! - timeS[k]!);
    const medianStepS = median(steps)!;
    const gapLimitS = Math.max(3, 5 * medianStepS);
    const gaps: Gap[] = [];
    if (raw.hasClock)
      steps.forEach((step, k) => {
        if (step > gapLimitS) gaps.push({ startS: timeS[k]!, endS: timeS[k + 1]! });
      });
    const spikes: RemovedSpikes[] = [];
    for (const name of CHANNEL_NAMES) {
      const values = channels[name];
      if (!values) continue;
      const removed = removeSpikes(name, values, timeS, raw.hasClock);
      if (removed.length > 0)
        spikes.push({
          channel: name,
          count: removed.length,
          timesS: removed.slice(0, KEPT_EXAMPLES).map(({ index }) => timeS[index]!),
          values: removed.slice(0, KEPT_EXAMPLES).map(({ value }) => value),
        });
    }
    const positionJumps = raw.hasClock ? removePositionJumps(channels, timeS) : 0;
    const speedComparison = raw.hasClock ? compareSpeeds(timeS, channels, gapLimitS) : undefined;
    return {
      timeS,
      hasClock: raw.hasClock,
      ...(raw.startEpochS !== undefined && { startEpochS: raw.startEpochS + originS }),
      channels,
      report: {
        samplesRead: raw.timeS.length,
        samplesKept: kept.length,
        droppedTimes: raw.timeS.length - kept.length,
        clockSteps: clock.steps.map(({ atS, backS }) => ({ atS: atS - originS, backS })),
        unreadable: raw.unreadable,
        raggedRecords: raw.raggedRecords,
        ignoredColumns: raw.ignoredColumns,
        medianStepS,
        gapLimitS,
        gaps,
        spikes,
        positionJumps,
        stuck: raw.hasClock ? findStuck(channels, timeS) : [],
        ...(speedComparison && { speedComparison }),
      },
    };
  });
}

/** Median of the steps that go forward. */
function usualStep(timeS: Float64Array): number {
  const steps: number[] = [];
  for (let k = 1; k < timeS.length; k++) if (timeS[k]! > timeS[k - 1]!) steps.push(timeS[k]! - timeS[k - 1]!);
  return median(steps) ?? 0;
}

function removeSpikes(
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

/** Fixes farther from the last good one than any bike rides; the fix itself is dropped, not the ones after it. */
function removePositionJumps({ latitude, longitude }: ChannelColumns, timeS: Float64Array): number {
  if (!latitude || !longitude) return 0;
  let last = -1;
  let rejectedInARow = 0;
  let jumps = 0;
  for (let k = 0; k < timeS.length; k++) {
    if (Number.isNaN(latitude[k]!) || Number.isNaN(longitude[k]!)) continue;
    if (last >= 0) {
      const distanceM = haversineM(latitude[last]!, longitude[last]!, latitude[k]!, longitude[k]!);
      // After several rejections in a row the "last good" fix was itself the jump.
      if (distanceM / (timeS[k]! - timeS[last]!) > MAX_GPS_SPEED_MPS && rejectedInARow < 5) {
        latitude[k] = NaN;
        longitude[k] = NaN;
        rejectedInARow++;
        jumps++;
        continue;
      }
    }
    last = k;
    rejectedInARow = 0;
  }
  return jumps;
}

/** Stretches over a minute in which a moving bike's speed, voltage or current shows one and the same value. */
function findStuck(channels: ChannelColumns, timeS: Float64Array): StuckSpan[] {
  const stuck: StuckSpan[] = [];
  for (const channel of ['speed', 'voltage', 'current', 'power'] as const) {
    const values = channels[channel];
    const others = (['speed', 'current', 'voltage', 'distance'] as const).filter(
      (name) => name !== channel && channels[name],
    );
    if (!values || others.length === 0) continue;
    let start = 0;
    for (let k = 1; k <= values.length; k++) {
      if (k < values.length && (values[k] === values[start] || Number.isNaN(values[k]!))) continue;
      const isLong = timeS[k - 1]! - timeS[start]! > STUCK_S;
      // A constant zero is a bike at rest or a motor off; a sensor sticks at any value.
      if (isLong && values[start] !== 0 && others.some((name) => varies(channels[name]!, start, k)))
        stuck.push({ channel, startS: timeS[start]!, endS: timeS[k - 1]! });
      start = k;
    }
  }
  return stuck;
}

function varies(values: Float64Array, from: number, to: number): boolean {
  const seen = new Set<number>();
  for (let k = from; k < to && seen.size < 4; k++) if (!Number.isNaN(values[k]!)) seen.add(values[k]!);
  return seen.size >= 4;
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
