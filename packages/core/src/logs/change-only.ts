import { gather, select } from '../numeric/index.js';
import { CHANNEL_NAMES, type ChannelColumns } from './channels.js';
import { stepsOf } from './steps-of.js';

const MIN_ROWS = 40;
/** Rows in which nothing changed that chance would have brought; so many of them missing cannot be chance. */
const MIN_EXPECTED = 8;
const MOST_SEEN = 0.1;
/** Share of the steps that are longer than the shortest usual one. */
const MIN_LONG = 0.08;
/** While the bike moves something changes sooner than this; a longer step is a gap. */
const LONGEST_HOLD_S = 20;
/** A bike that stands for longer may have been switched off, and its logger with it. */
const LONGEST_STAND_S = 600;
const SLOWEST_MPS = 0.6;
/** Held values are laid out at this spacing, s, or at the log's own where that is longer. */
const LAID_OUT_S = 1;
const MOST_ROWS = 4_000_000;

/**
 * Whether a log has a row only when a value changed: its steps are uneven, and rows in which no value changed are missing although each
 * value by itself often stays. Times in s, increasing.
 */
export function isChangeOnly(timeS: Float64Array, channels: ChannelColumns): boolean {
  const columns = CHANNEL_NAMES.flatMap((name) => channels[name] ?? []);
  const rows = timeS.length;
  if (columns.length < 2 || rows < MIN_ROWS) return false;
  const step = shortStep(timeS);
  let long = 0;
  for (let k = 1; k < rows; k++) if (timeS[k]! - timeS[k - 1]! > 1.5 * step) long++;
  if (long < MIN_LONG * (rows - 1)) return false;
  let expected = rows - 1;
  for (const column of columns) {
    let same = 0;
    for (let k = 1; k < rows; k++) if (Object.is(column[k], column[k - 1])) same++;
    expected *= same / (rows - 1);
  }
  if (expected < MIN_EXPECTED) return false;
  let unchanged = 0;
  for (let k = 1; k < rows; k++) if (columns.every((column) => Object.is(column[k], column[k - 1]))) unchanged++;
  return unchanged <= MOST_SEEN * expected;
}

/** The step at which the logger looked: the shortest that is not rare. */
function shortStep(timeS: Float64Array): number {
  const steps = stepsOf(timeS);
  return select(steps, Math.floor(0.05 * (steps.length - 1)))[0];
}

/**
 * The same log with each row held until the one before the next: what did not change was as before. A bike that moves and shows
 * nothing for twenty seconds has a gap, which stays, as has one that stands for ten minutes.
 */
export function holdLast(
  timeS: Float64Array,
  channels: ChannelColumns,
): { timeS: Float64Array; channels: ChannelColumns } {
  const step = shortStep(timeS);
  const spacing = Math.max(step, LAID_OUT_S);
  const times: number[] = [];
  const from: number[] = [];
  for (let k = 0; k < timeS.length; k++) {
    times.push(timeS[k]!);
    from.push(k);
    const until = (timeS[k + 1] ?? timeS[k]!) - step;
    const isMoving = (channels.speed?.[k] ?? 0) > SLOWEST_MPS;
    if (until - timeS[k]! < 0.5 * step || until - timeS[k]! > (isMoving ? LONGEST_HOLD_S : LONGEST_STAND_S)) continue;
    // Enough rows, or a log of years: what is left stays a gap.
    if (times.length + (until - timeS[k]!) / spacing > MOST_ROWS) continue;
    for (let t = timeS[k]! + spacing; t < until - 0.5 * step; t += spacing) {
      times.push(t);
      from.push(k);
    }
    times.push(until);
    from.push(k);
  }
  const held: ChannelColumns = {};
  for (const name of CHANNEL_NAMES) {
    const column = channels[name];
    if (column) held[name] = gather(column, from);
  }
  return { timeS: Float64Array.from(times), channels: held };
}
