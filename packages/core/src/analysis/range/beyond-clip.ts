import { clippedAt, estimateResolution, type ClipSigns } from '../../signal/index.js';
import { fitLinearModel } from '../../statistics/index.js';
import { correlationInflation } from '../uneven-scatter.js';

/** A current (or power) whose sensor was at its end, with what it did not show put in. */
export interface BeyondClip {
  /** A or W, NaN where missing. */
  readonly values: Float64Array;
  /** The highest reading. */
  readonly end: number;
  /** Whether the voltage told what was hidden; else it is what the tail of the strong loads says, which may as well be nothing. */
  readonly isTold: boolean;
  /** Shares of the sum over the ride: what was added, and its standard uncertainty. */
  readonly addedShare: number;
  readonly uncertaintyShare: number;
}

/** The volts tell a sensor at its end from a controller at its limit: fewer signs are enough to look. */
export const FEWEST_SIGNS: ClipSigns = { share: 0.003, run: 2 };
/** Lags through which a pack gives way slowly, s. */
const LAGS_S = [4, 40] as const;
const MAX_ROWS = 4000;
const ROUNDS = 6;
/** A pack is no circuit of three parts: what that leaves open of the hidden current, as a share of it. */
const FORM_LIMIT = 0.2;
/** The same of the current at the end, where next to nothing is hidden. */
const FLOOR_SHARE = 0.01;
/** Where no voltage tells: the tail of the strong loads is looked at from this share of the end on. */
const TAIL_FROM = 0.7;
/** Nobody fits a sensor that hides more than this share of its own end on the average. */
const MOST_HIDDEN = 0.5;
/** What the tail tells is added; the limit reaches from nothing to twice of it, and a little further. */
const BLIND_LIMIT = 1.1;
/** Volts at the end that take fewer values than this are told no closer than their step. */
const FEW_VALUES = 4;
/** A resistance known no better than this tells nothing. */
const MAX_RELATIVE_ERROR = 0.3;

/**
 * What a current sensor at the end of its range did not show, by the pack's own sag: V = U₀ − s·q − R₀·I − Σ Rᵢ·Iᵢ is fitted to the
 * samples below the end, the hidden current solved at those on it, and both repeated until they agree.
 * Shapes: equal lengths; s, V, A. Undefined where no reading sits at the end. Where the voltage does not tell, `beyondTail`.
 * Method: linear least squares of an equivalent circuit with fixed lags; the residuals' correlation widens the error.
 */
export function beyondClip(timeS: Float64Array, current: Float64Array, voltage: Float64Array): BeyondClip | undefined {
  const end = clippedAt(current, FEWEST_SIGNS);
  if (end === undefined) return undefined;
  const clippedCharge = sumOver(timeS, current, (k) => current[k] === end);
  const charge = sumOver(timeS, current, (k) => current[k]! > 0);
  const blind = beyondTail(timeS, current, end);
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
    const stepA = stepAtEnd(current, voltage, end) / ohm;
    if (stepA > MAX_STEP_SHARE * end) return blind;
    error = Math.hypot(error, stepA / Math.sqrt(12));
    let [solved, count] = [0, 0];
    const beyond = current.map((amps, k) => {
      if (amps !== end || Number.isNaN(voltage[k]!)) return NaN;
      const beside = rows[k]!.reduce((sum, x, i) => sum + (i === 1 ? 0 : x * coefficients[i]!), 0);
      const value = (beside - voltage[k]!) / ohm;
      solved += value;
      count++;
      return value;
    });
    // Where the voltage is missing as well, as at the others.
    const usual = count > 0 ? solved / count : end;
    hidden = current.map((amps, k) => (amps !== end ? amps : Number.isNaN(beyond[k]!) ? usual : beyond[k]!));
  }
  const clippedS = clippedCharge / end;
  const added = sumOver(timeS, hidden, (k) => current[k] === end) - clippedCharge;
  const uncertainty = Math.hypot(error * clippedS, (FORM_LIMIT * Math.max(0, added)) / Math.sqrt(3));
  // A controller that holds its limit hides nothing: the volts say so, within what they can tell.
  if (added < Math.max(2 * error * clippedS, FLOOR_SHARE * clippedCharge))
    return {
      values: current,
      end,
      isTold: false,
      addedShare: 0,
      uncertaintyShare: Math.hypot(uncertainty, Math.max(0, added)) / charge,
    };
  return {
    values: hidden,
    end,
    isTold: true,
    addedShare: added / (charge + added),
    uncertaintyShare: uncertainty / (charge + added),
  };
}

/** Of the end: what a step of the voltage must not be worth in current. */
const MAX_STEP_SHARE = 0.5;
/** Step of the volts where the sensor is at its end, V; none where they take many values. */
function stepAtEnd(current: Float64Array, voltage: Float64Array, end: number): number {
  const values = new Set<number>();
  for (let k = 0; k < current.length && values.size < FEW_VALUES; k++)
    if (current[k] === end && !Number.isNaN(voltage[k]!)) values.add(voltage[k]!);
  return values.size < FEW_VALUES ? estimateResolution(voltage) : 0;
}

/**
 * What may be hidden as far as the readings alone tell: the mean excess of an exponential tail, of which the part beyond the end is censored,
 * Σ(min(x, end) − u) ÷ count of those between u and the end. A controller at its limit looks the same, so that none may be hidden as well.
 * Shapes: equal lengths; s, A or W; `end` is the highest reading.
 */
export function beyondTail(timeS: Float64Array, values: Float64Array, end: number): BeyondClip {
  const clipped = sumOver(timeS, values, (k) => values[k] === end);
  const whole = sumOver(timeS, values, (k) => values[k]! > 0);
  const u = TAIL_FROM * end;
  let [sum, seen] = [0, 0];
  for (const value of values) {
    if (!(value > u)) continue;
    sum += Math.min(value, end) - u;
    if (value < end) seen++;
  }
  const hidden = Math.min(MOST_HIDDEN * end, sum / Math.max(1, seen));
  const added = (clipped * hidden) / end;
  return {
    values: values.map((value) => (value === end ? value + hidden : value)),
    end,
    isTold: false,
    addedShare: added / (whole + added),
    uncertaintyShare: (BLIND_LIMIT * added) / Math.sqrt(3) / (whole + added),
  };
}

/** ∫ x dt over the samples named; each stands for the time to the next. */
function sumOver(timeS: Float64Array, values: Float64Array, counts: (k: number) => boolean): number {
  let sum = 0;
  for (let k = 0; k + 1 < values.length; k++)
    if (counts(k) && !Number.isNaN(values[k]!)) sum += values[k]! * Math.min(5, timeS[k + 1]! - timeS[k]!);
  return sum;
}

/** 1, I, share of the charge, its square, and I through each lag, for every sample. */
function rowsOf(timeS: Float64Array, current: Float64Array): number[][] {
  const lagged = LAGS_S.map(() => 0);
  const whole = sumOver(timeS, current, () => true) || 1;
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
