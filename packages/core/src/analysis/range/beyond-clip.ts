import type { ChannelColumns } from '../../logs/index.js';
import { clippedAt } from '../../signal/index.js';
import { fitLinearModel } from '../../statistics/index.js';
import { correlationInflation } from '../uneven-scatter.js';

/** A current whose sensor was at its end, with what its voltage says it did not show. */
export interface BeyondClip {
  /** A, NaN where missing. */
  readonly current: Float64Array;
  /** Shares of the charge that was drawn: what was added, and its standard uncertainty. */
  readonly addedShare: number;
  readonly uncertaintyShare: number;
}

/** The volts tell a sensor at its end from a controller at its limit: fewer signs are enough to look. */
const FEWEST_SIGNS = { share: 0.003, run: 2 };
/** Lags through which a pack gives way slowly, s. */
const LAGS_S = [4, 40] as const;
const MAX_ROWS = 4000;
const ROUNDS = 6;
/** A pack is no circuit of three parts: what that leaves open of the hidden current, as a share of it. */
const FORM_LIMIT = 0.2;
/** The same of the current at the end, where next to nothing is hidden. */
const FLOOR_SHARE = 0.01;
/** Where no voltage tells, the sensor may have hidden this share of what it showed at its end. */
const BLIND_LIMIT = 0.3;
/** A resistance known no better than this tells nothing. */
const MAX_RELATIVE_ERROR = 0.3;

/**
 * What a current sensor at the end of its range did not show, by the pack's own sag: V = U₀ − s·q − R₀·I − Σ Rᵢ·Iᵢ is fitted to the
 * samples below the end, the hidden current solved at those on it, and both repeated until they agree.
 * Shapes: equal lengths; s, V, A. Undefined where no reading sits at the end.
 * Method: linear least squares of an equivalent circuit with fixed lags; the residuals' correlation widens the error.
 */
export function beyondClip(
  timeS: Float64Array,
  { current, voltage }: Pick<ChannelColumns, 'current' | 'voltage'>,
): BeyondClip | undefined {
  const end = current && clippedAt(current, FEWEST_SIGNS);
  if (!current || end === undefined) return undefined;
  const clippedCharge = chargeOf(timeS, current, (k) => current[k] === end);
  const charge = chargeOf(timeS, current, (k) => current[k]! > 0);
  const blind: BeyondClip = {
    current,
    addedShare: 0,
    uncertaintyShare: (BLIND_LIMIT * clippedCharge) / charge / Math.sqrt(3),
  };
  if (!voltage) return blind;
  let hidden = current;
  let error = Infinity;
  for (let round = 0; round < ROUNDS; round++) {
    const rows = rowsOf(timeS, hidden);
    const all: number[] = [];
    for (let k = 0; k < current.length; k++) if (current[k]! < end && !Number.isNaN(voltage[k]!)) all.push(k);
    const every = Math.max(1, Math.ceil(all.length / MAX_ROWS));
    const kept = all.filter((_, j) => j % every === 0);
    const fit = fitLinearModel(
      kept.map((k) => rows[k]!),
      kept.map((k) => voltage[k]!),
    );
    if (!fit.ok) return blind;
    const { coefficients, unscaledCovariance, residualVariance } = fit.value;
    const ohm = -coefficients[1]!;
    const p = coefficients.length;
    const residuals = kept.map((k) => voltage[k]! - rows[k]!.reduce((sum, x, i) => sum + x * coefficients[i]!, 0));
    const inflation = correlationInflation(residuals);
    const ohmError = Math.sqrt(residualVariance * unscaledCovariance[p + 1]!) * inflation;
    if (!(ohm > 0) || ohmError > MAX_RELATIVE_ERROR * ohm) return blind;
    // Of the mean over all samples at the end: the scatter of the fit's level, in volts, over the resistance.
    error = (Math.sqrt(residualVariance / kept.length) * inflation) / ohm;
    hidden = current.map((amps, k) => {
      if (amps !== end || Number.isNaN(voltage[k]!)) return amps;
      const beside = rows[k]!.reduce((sum, x, i) => sum + (i === 1 ? 0 : x * coefficients[i]!), 0);
      return (beside - voltage[k]!) / ohm;
    });
  }
  const clippedS = clippedCharge / end;
  const added = chargeOf(timeS, hidden, (k) => current[k] === end) - clippedCharge;
  const uncertainty = Math.hypot(error * clippedS, (FORM_LIMIT * Math.max(0, added)) / Math.sqrt(3));
  // A controller that holds its limit hides nothing: the volts say so, within what they can tell.
  if (added < Math.max(2 * error * clippedS, FLOOR_SHARE * clippedCharge))
    return { current, addedShare: 0, uncertaintyShare: Math.hypot(uncertainty, Math.max(0, added)) / charge };
  return { current: hidden, addedShare: added / (charge + added), uncertaintyShare: uncertainty / (charge + added) };
}

/** ∫ I dt over the samples named, A·s; each stands for the time to the next. */
function chargeOf(timeS: Float64Array, current: Float64Array, counts: (k: number) => boolean): number {
  let sum = 0;
  for (let k = 0; k + 1 < current.length; k++)
    if (counts(k) && !Number.isNaN(current[k]!)) sum += current[k]! * Math.min(5, timeS[k + 1]! - timeS[k]!);
  return sum;
}

/** 1, I, share of the charge, its square, and I through each lag, for every sample. */
function rowsOf(timeS: Float64Array, current: Float64Array): number[][] {
  const lagged = LAGS_S.map(() => 0);
  const whole = chargeOf(timeS, current, () => true) || 1;
  let [charge, last] = [0, 0];
  return Array.from(current, (value, k) => {
    const amps = Number.isNaN(value) ? last : value;
    const step = k > 0 ? timeS[k]! - timeS[k - 1]! : 0;
    LAGS_S.forEach((tau, m) => {
      const kept = Math.exp(-step / tau);
      lagged[m] = lagged[m]! * kept + ((last + amps) / 2) * (1 - kept);
    });
    charge += ((last + amps) / 2) * Math.min(5, step);
    last = amps;
    const share = charge / whole;
    return [1, amps, share, share * share, ...lagged];
  });
}
