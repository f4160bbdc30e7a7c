import type { ChannelColumns } from './channels.js';

/** A pack's voltage falls by so much per ampere, Ω: outside this the slope is of something else. */
const LEAST_OHM = 0.003;
const MOST_OHM = 3;
/** So many standard errors from zero, and the slope decides. */
const SURE_T = 6;
const LONGEST_STEP_S = 15;
/** A column this far below zero on the whole counts discharge negative, or is a long way down hill: asked where the voltage does not tell. */
const MOSTLY_BELOW = 3;

/** A sensor's offset and noise about zero are no discharge: below this in its larger samples nothing hangs on the sign. */
const LEAST_A = 1.5;
const LEAST_W = 60;
const LARGE_QUANTILE = 0.05;

export type SignFinding = 'positive' | 'negative' | 'unclear';

/**
 * Whether discharge is counted positive or negative. A column that is below zero on the whole either counts discharge negative or is of
 * a pack that was charged; voltage falls as the discharge grows, so the slope of the changes of voltage on the changes of current tells (V and A, same length, NaN where missing). `unclear` where the voltage does not tell and the
 * column is mostly below zero; what is mostly above zero is taken as positive.
 */
export function dischargeSign(
  timeS: Float64Array,
  { voltage, current, power }: Pick<ChannelColumns, 'current' | 'power' | 'voltage'>,
): SignFinding {
  const column = current ?? power;
  if (!column) return 'positive';
  let [above, below] = [0, 0];
  for (const value of column) {
    if (value > 0) above += value;
    else if (value < 0) below -= value;
  }
  // On the whole a ride takes from the pack.
  if (below <= above || !isDischarge(column, current ? LEAST_A : LEAST_W)) return 'positive';
  const slope = voltage && current && slopeOfChanges(timeS, voltage, current);
  if (slope && Math.abs(slope.t) > SURE_T && Math.abs(slope.ohm) > LEAST_OHM && Math.abs(slope.ohm) < MOST_OHM)
    return slope.ohm < 0 ? 'positive' : 'negative';
  return below > MOSTLY_BELOW * above ? 'unclear' : 'positive';
}

/** Whether the lowest twentieth of a column is a load, and no offset. */
function isDischarge(column: Float64Array, least: number): boolean {
  const known = column.filter((value) => !Number.isNaN(value)).sort();
  return (known[Math.floor(LARGE_QUANTILE * known.length)] ?? 0) < -least;
}

/** Least squares of ΔV on ΔI between neighbouring samples, by the larger changes: where the current stands, noise only flattens it. */
function slopeOfChanges(
  timeS: Float64Array,
  voltage: Float64Array,
  current: Float64Array,
): { ohm: number; t: number } | undefined {
  const changes: [number, number][] = [];
  const stride = Math.max(1, Math.floor(timeS.length / 50_000));
  for (let k = stride; k < timeS.length; k += stride) {
    if (timeS[k]! - timeS[k - stride]! > LONGEST_STEP_S) continue;
    const [dI, dV] = [current[k]! - current[k - stride]!, voltage[k]! - voltage[k - stride]!];
    if (!Number.isNaN(dI + dV)) changes.push([dI, dV]);
  }
  if (changes.length < 20) return undefined;
  const sizes = changes.map(([dI]) => Math.abs(dI)).sort((a, b) => a - b);
  const large = sizes[Math.floor(0.8 * (sizes.length - 1))]!;
  const used = changes.filter(([dI]) => Math.abs(dI) >= large && dI !== 0);
  if (used.length < 8) return undefined;
  let [sxx, sxy, syy] = [0, 0, 0];
  for (const [x, y] of used) {
    sxx += x * x;
    sxy += x * y;
    syy += y * y;
  }
  const ohm = sxy / sxx;
  const residual = Math.max(0, syy - ohm * sxy) / (used.length - 1);
  const error = Math.sqrt(residual / sxx);
  return { ohm, t: error > 0 ? ohm / error : Math.sign(ohm) * Infinity };
}
