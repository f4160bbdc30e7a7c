import { median } from '../numeric/index.js';
import type { ChannelColumns } from './channels.js';

/** Voltage and current in the same row for less than this share of the rarer one: the logger writes one value a row. */
const TOGETHER_SHARE = 0.2;
/** A value older than this, or than so many of its own steps, is no longer the present one. */
const OLDEST_S = 3;
const OLDEST_STEPS = 5;

/**
 * Holds voltage and current until their next values, in place, where a log writes them in rows of their own: power needs both at one
 * moment. Answers whether it did. Shapes: equal lengths, times in s increasing, NaN where missing.
 */
export function joinElectrical(
  timeS: Float64Array,
  { voltage, current }: Pick<ChannelColumns, 'current' | 'voltage'>,
): boolean {
  if (!voltage || !current) return false;
  let [volts, amps, both] = [0, 0, 0];
  for (let k = 0; k < timeS.length; k++) {
    const [v, a] = [!Number.isNaN(voltage[k]!), !Number.isNaN(current[k]!)];
    if (v) volts++;
    if (a) amps++;
    if (v && a) both++;
  }
  if (Math.min(volts, amps) < 2 || both > TOGETHER_SHARE * Math.min(volts, amps)) return false;
  for (const column of [voltage, current]) hold(timeS, column);
  return true;
}

function hold(timeS: Float64Array, column: Float64Array): void {
  const known: number[] = [];
  for (let k = 0; k < column.length; k++) if (!Number.isNaN(column[k]!)) known.push(timeS[k]!);
  const step = median(known.slice(1).map((t, k) => t - known[k]!)) ?? 0;
  const oldest = Math.max(OLDEST_S, OLDEST_STEPS * step);
  let last = -1;
  for (let k = 0; k < column.length; k++) {
    if (!Number.isNaN(column[k]!)) last = k;
    else if (last >= 0 && timeS[k]! - timeS[last]! <= oldest) column[k] = column[last]!;
  }
}
