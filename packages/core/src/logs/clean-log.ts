import { median } from '../numeric/index.js';
import { CHANNEL_NAMES, type ChannelColumns, type ChannelName } from './channels.js';
import { isChangeOnly, holdLast } from './change-only.js';
import { joinElectrical } from './join-electrical.js';
import { undoForwardJumps } from './clock-set-forward.js';
import { dischargeSign, type SignFinding } from './current-sign.js';
import { stepsOf } from './steps-of.js';
import { repairClock, type ClockStep } from './repair-clock.js';
import { restCreep } from './standing-creep.js';
import { longestIncreasing } from './increasing-subsequence.js';
import { LogProblemError, catchLogProblem, type LogOutcome } from './log-problem.js';
import type { RawLog, UnreadableCells } from './raw-log.js';
import type { Gap } from './gap.js';
import { findStuck, type StuckSpan } from './find-stuck.js';
import { removePositionJumps } from './remove-position-jumps.js';
import { removeSpikes } from './remove-spikes.js';
import { takeMotion, type Motion } from './take-motion.js';
import { compareSpeeds, type SpeedComparison } from './compare-speeds.js';

export interface RemovedSpikes {
  readonly channel: ChannelName;
  readonly count: number;
  /** The first 500, in stored units. */
  readonly timesS: readonly number[];
  readonly values: readonly number[];
}
export interface CleaningReport {
  readonly samplesRead: number;
  readonly samplesKept: number;
  /** Samples whose time was missing, went backwards or stood still. */
  readonly droppedTimes: number;
  /** Where the clock was set back, or (below zero) forward in full ride; the times after it were moved. */
  readonly clockSteps?: readonly ClockStep[];
  /** Rows came only when a value changed; each was held until the next. */
  readonly isHeld?: boolean;
  /** Voltage and current stood in rows of their own; each was held until its next. */
  readonly isJoined?: boolean;
  /** Acceleration has a clock of its own: so many samples, in the middle so far apart. */
  readonly felt?: { readonly samples: number; readonly stepS: number };
  /** Discharge was counted negative; current and power were turned. */
  readonly isTurned?: boolean;
  /** Current or power is below zero nearly throughout, and nothing tells whether that is discharge. */
  readonly isSignUnclear?: boolean;
  /** Samples of a speed by satellite that never rests, set to zero while the bike stood. */
  readonly creepSamples?: number;
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
  /** What was felt, with a clock of its own; never among the channels. */
  readonly motion?: Motion;
  readonly report: CleaningReport;
}

const KEPT_EXAMPLES = 500;
/** With fewer of its rows in order, a log is misread rather than disordered. */
const MIN_KEPT = 0.4;

/**
 * Cleans a raw log: each step counted, raw data untouched unless it is given away. Spikes become missing samples, gaps are marked, never bridged.
 *
 * Electrical channels lose a single sample only where it also lies outside all that the rest of the log shows: current
 * may really jump for one sample, speed and temperature may not.
 * `isGivenAway`: nobody looks at the raw log afterwards, so that its columns may become those of the clean one, without a copy.
 * Fails: `no-samples` when fewer than two samples have a usable time.
 */
export function cleanLog(raw: RawLog, { isGivenAway = false } = {}): LogOutcome<CleanLog> {
  return catchLogProblem(() => {
    const clock = raw.hasClock ? repairClock(raw.timeS, usualStep(raw.timeS)) : { timeS: raw.timeS, steps: [] };
    const kept = longestIncreasing(clock.timeS);
    if (kept.length < 2)
      throw new LogProblemError({
        code: 'no-samples',
        message:
          'Fewer than two samples have a time that can be used. Check which column holds the time, and its unit.',
      });
    const timed = raw.timeS.reduce((n, t) => (Number.isNaN(t) ? n : n + 1), 0);
    if (raw.hasClock && kept.length < MIN_KEPT * timed)
      throw new LogProblemError({
        code: 'no-samples',
        message: `Only ${kept.length} of ${timed} rows have a time later than the one before: most of the log would be lost. Check which column holds the time, and how it is written (a time without seconds, or in another unit).`,
      });
    const own = (values: Float64Array): Float64Array =>
      isGivenAway && kept.length === values.length ? values : picked(values, kept);
    let timeS = own(clock.timeS);
    const originS = timeS[0]!;
    for (let k = 0; k < timeS.length; k++) timeS[k]! -= originS;
    const channels: ChannelColumns = {};
    for (const name of CHANNEL_NAMES) {
      const values = raw.channels[name];
      if (values) channels[name] = own(values);
    }
    const forward = raw.hasClock ? undoForwardJumps(timeS, channels, usualStep(timeS)) : [];
    const felt = raw.hasClock ? takeMotion(timeS, channels) : undefined;
    if (felt && felt.kept.length < timeS.length) {
      timeS = picked(timeS, felt.kept);
      for (const name of CHANNEL_NAMES) {
        const values = channels[name];
        if (values) channels[name] = picked(values, felt.kept);
      }
    }
    const isHeld = raw.hasClock && isChangeOnly(timeS, channels);
    if (isHeld) {
      const held = holdLast(timeS, channels);
      timeS = held.timeS;
      Object.assign(channels, held.channels);
    }
    const isJoined = raw.hasClock && joinElectrical(timeS, channels);
    const creepSamples = raw.hasClock ? restCreep(timeS, channels) : 0;
    const sign = turnSigns(timeS, channels, raw.signsSaid ?? []);
    const medianStepS = median(stepsOf(timeS))!;
    const gapLimitS = Math.max(3, 5 * medianStepS);
    const gaps = raw.hasClock ? gapsOf(timeS, gapLimitS) : [];
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
      ...(raw.startEpochS !== undefined && { startEpochS: raw.startEpochS + originS + daysAdded(forward) }),
      channels,
      ...(felt?.motion && { motion: felt.motion }),
      report: {
        samplesRead: raw.timeS.length,
        samplesKept: kept.length,
        droppedTimes: raw.timeS.length - kept.length,
        clockSteps: [...clock.steps.map(({ atS, backS }) => ({ atS: atS - originS, backS })), ...forward],
        ...(isHeld && { isHeld }),
        ...(isJoined && { isJoined }),
        ...(felt?.motion && { felt: { samples: felt.motion.timeS.length, stepS: usualStep(felt.motion.timeS) } }),
        ...(sign === 'negative' && { isTurned: true }),
        ...(sign === 'unclear' && { isSignUnclear: true }),
        ...(creepSamples > 0 && { creepSamples }),
        unreadable: raw.unreadable,
        raggedRecords: raw.raggedRecords,
        ignoredColumns: raw.ignoredColumns,
        medianStepS,
        gapLimitS,
        gaps,
        spikes,
        positionJumps,
        stuck: raw.hasClock && !isHeld ? findStuck(channels, timeS) : [],
        ...(speedComparison && { speedComparison }),
      },
    };
  });
}

/** A clock that was set on by days in full ride had begun on a day that never was. */
function daysAdded(forward: readonly ClockStep[]): number {
  return forward.reduce((sum, { backS }) => (-backS > 86_400 ? sum - backS : sum), 0);
}

/** Turns current and power where they count discharge negative. Answers what was found; what is unclear stays as it is. */
function turnSigns(timeS: Float64Array, channels: ChannelColumns, said: readonly string[]): SignFinding {
  const { voltage, current, power } = channels;
  if ((!current && !power) || said.includes('current') || (!current && said.includes('power'))) return 'positive';
  const found = dischargeSign(timeS, channels);
  const turn = (column: Float64Array | undefined): void => column?.forEach((value, k) => (column[k] = -value));
  // A power alone never tells by itself: there is no voltage beside it.
  if (found === 'negative') turn(current);
  // A power of its own follows volts times amps, whichever way it was counted.
  if (power && voltage && current && !said.includes('power')) {
    let together = 0;
    for (let k = 0; k < power.length; k++) together += power[k]! * voltage[k]! * current[k]! || 0;
    if (together < 0) turn(power);
  }
  return found;
}

/** A copy of the samples that were kept. */
function picked(values: Float64Array, kept: ArrayLike<number>): Float64Array {
  if (kept.length === values.length) return values.slice();
  const chosen = new Float64Array(kept.length);
  for (let k = 0; k < kept.length; k++) chosen[k] = values[kept[k]!]!;
  return chosen;
}

function gapsOf(timeS: Float64Array, limitS: number): Gap[] {
  const gaps: Gap[] = [];
  for (let k = 1; k < timeS.length; k++)
    if (timeS[k]! - timeS[k - 1]! > limitS) gaps.push({ startS: timeS[k - 1]!, endS: timeS[k]! });
  return gaps;
}

/** Median of the steps that go forward. */
function usualStep(timeS: Float64Array): number {
  const steps = new Float64Array(timeS.length);
  let count = 0;
  for (let k = 1; k < timeS.length; k++) if (timeS[k]! > timeS[k - 1]!) steps[count++] = timeS[k]! - timeS[k - 1]!;
  return median(steps.subarray(0, count)) ?? 0;
}
