import { dot, gather, solveSymmetric } from '../../numeric/index.js';
import { correlationInflation } from '../uneven-scatter.js';

/** A pack's answer to a step of the load: at once, and slowly after. */
export interface TransientFit {
  /** V before the first charge is drawn. */
  readonly openV: Estimate;
  /** Ohms a time after a step of the load; undefined beyond what the log's steps show. */
  readonly after: (seconds: number) => Estimate | undefined;
  readonly slowParts: number;
  readonly residuals: readonly number[];
  /** V = c₀ − c₁·I − c₂·q of the plain line, for the chart. */
  readonly samples: number;
  readonly degreesOfFreedom: number;
}
interface Estimate {
  readonly value: number;
  readonly standardUncertainty: number;
}

/** Time constants tried, s: four to an octave. */
const TIME_CONSTANTS_S = Array.from({ length: 36 }, (_, k) => 0.5 * 2 ** (k / 4));
/** More rows than this tell no more; the lags are reckoned on all samples. */
const MAX_ROWS = 10_000;
/** A slow part shorter than two samples is the resistance at once; one longer than the steps is not seen. */
const LEAST_SAMPLES = 2;
const MOST_STEPS = 3;
/** Times beyond so many steps are not told. */
const BEYOND_STEPS = 1.2;
/** Steps that differ by less than this share have the same lags. */
const SAME_STEP = 1e-6;
/** U₀, R₀, and the open-circuit voltage's bend over the charge. */
const FIXED = 5;

/**
 * Fits V = U₀ − s·q − R₀·I − Σ Rᵢ·Iᵢ, where Iᵢ is the current through a first-order lag of τᵢ and q the charge drawn: none, one or two
 * slow parts with time constants of a grid, all of them weighed by AICc, so that what the log cannot tell between them widens the answer.
 * Shapes: equal lengths; s, V, A; NaN where missing. Undefined where load and charge cannot be told apart.
 * Method: linear least squares of an equivalent circuit with fixed time constants (variable projection on a grid); residuals' correlation
 * widens the errors.
 */
export function fitTransients(
  timeS: Float64Array,
  voltage: Float64Array,
  current: Float64Array,
  stepS: number,
): TransientFit | undefined {
  const used = whereKnown(voltage, current);
  const every = Math.max(1, Math.ceil(used.length / MAX_ROWS));
  const n = Math.ceil(used.length / every);
  const sampleS = (timeS[used.at(-1)!]! - timeS[used[0]!]!) / Math.max(1, used.length - 1);
  const tried = TIME_CONSTANTS_S.filter((tau) => tau > LEAST_SAMPLES * sampleS && tau < MOST_STEPS * stepS);
  const width = FIXED + tried.length;
  const columns = Array.from({ length: width }, () => new Float64Array(n));
  const seconds = gather(timeS, used);
  const amps = gather(current, used);
  const wholeAh = Math.max(1e-9, chargeDrawn(seconds, amps));
  let chargeAh = 0;
  for (let j = 0; j < amps.length; j++) {
    if (j > 0) chargeAh += (((amps[j - 1]! + amps[j]!) / 2) * (seconds[j]! - seconds[j - 1]!)) / 3600;
    if (j % every !== 0) continue;
    const row = j / every;
    const share = chargeAh / wholeAh;
    columns[0]![row] = 1;
    columns[1]![row] = -amps[j]!;
    columns[2]![row] = -share;
    columns[3]![row] = -share * (1 - share);
    columns[4]![row] = -share * (1 - share) * (1 - 2 * share);
  }
  lagInto(columns.slice(FIXED), tried, seconds, amps, every);
  const y = Float64Array.from({ length: n }, (_, row) => voltage[used[row * every]!]!);
  const gram = new Float64Array(width * width);
  const right = new Float64Array(width);
  // Volts about their mean: squares of fifty volts would drown millivolts.
  const meanV = y.reduce((sum, v) => sum + v, 0) / n;
  const centred = y.map((v) => v - meanV);
  for (let a = 0; a < width; a++) {
    right[a] = dot(columns[a]!, centred);
    for (let b = 0; b <= a; b++) gram[a * width + b] = gram[b * width + a] = dot(columns[a]!, columns[b]!);
  }
  const total = dot(centred, centred);
  const models: readonly (readonly number[])[] = [
    [],
    ...tried.map((_, m) => [m]),
    ...tried.flatMap((_, a) => tried.flatMap((__, b) => (b > a ? [[a, b]] : []))),
  ];
  const solved = models.flatMap((slow) => {
    const index = [0, 1, 2, 3, 4, ...slow.map((m) => FIXED + m)];
    const p = index.length;
    const matrix = new Float64Array(p * p);
    index.forEach((a, i) => index.forEach((b, j) => (matrix[i * p + j] = gram[a * width + b]!)));
    const beta = solveSymmetric(
      matrix,
      Float64Array.from(index, (a) => right[a]!),
    );
    if (!beta) return [];
    // A pack gives way under load, never the other way round.
    if (slow.some((_, m) => !(beta[FIXED + m]! > 0)) || !(beta[1]! > 0)) return [];
    const explained = index.reduce((sum, a, i) => sum + right[a]! * beta[i]!, 0);
    return [{ slow, index, matrix, beta, squares: Math.max(1e-12, total - explained) }];
  });
  if (solved.length === 0) return undefined;
  const residualsOf = ({ index, beta }: (typeof solved)[number]): number[] =>
    Array.from(centred, (v, k) => v - index.reduce((sum, a, i) => sum + columns[a]![k]! * beta[i]!, 0));
  const best = solved.reduce((a, b) => (b.squares < a.squares ? b : a));
  const inflation = correlationInflation(residualsOf(best));
  const effective = Math.max(12, n / inflation ** 2);
  const scored = solved.map((model) => {
    const p = model.index.length + model.slow.length;
    const aicc = effective * Math.log(model.squares / n) + 2 * p + (2 * p * (p + 1)) / Math.max(1, effective - p - 1);
    return { ...model, aicc };
  });
  const least = Math.min(...scored.map(({ aicc }) => aicc));
  const weighed = scored
    .map((model) => ({ ...model, weight: Math.exp((least - model.aicc) / 2) }))
    .filter(({ weight }) => weight > 1e-4);
  const weights = weighed.reduce((sum, { weight }) => sum + weight, 0);
  /** A linear combination of each model's coefficients, averaged over the models with what lies within and between them. */
  const combine = (terms: (model: (typeof weighed)[number]) => number[]): Estimate => {
    const found = weighed.map((model) => {
      const c = terms(model);
      const spread = solveSymmetric(model.matrix, Float64Array.from(c)) ?? new Float64Array(c.length);
      const variance = c.reduce((sum, x, i) => sum + x * spread[i]!, 0) * (model.squares / Math.max(1, n - c.length));
      return {
        value: c.reduce((sum, x, i) => sum + x * model.beta[i]!, 0),
        variance: variance * inflation ** 2,
        share: model.weight / weights,
      };
    });
    const value = found.reduce((sum, one) => sum + one.share * one.value, 0);
    const variance = found.reduce((sum, one) => sum + one.share * (one.variance + (one.value - value) ** 2), 0);
    return { value, standardUncertainty: Math.sqrt(variance) };
  };
  const open = combine(({ slow }) => [1, 0, 0, 0, 0, ...slow.map(() => 0)]);
  return {
    openV: { ...open, value: open.value + meanV },
    after: (seconds) =>
      seconds > 0 && seconds > BEYOND_STEPS * stepS
        ? undefined
        : combine(({ slow }) => [0, 1, 0, 0, 0, ...slow.map((m) => 1 - Math.exp(-seconds / tried[m]!))]),
    slowParts: weighed.reduce((a, b) => (b.weight > a.weight ? b : a)).slow.length,
    residuals: residualsOf(best),
    samples: n,
    degreesOfFreedom: Math.max(3, Math.round(effective - FIXED - 2)),
  };
}

function whereKnown(voltage: Float64Array, current: Float64Array): Uint32Array {
  const known = new Uint32Array(voltage.length);
  let count = 0;
  for (let k = 0; k < voltage.length; k++) if (!Number.isNaN(voltage[k]! + current[k]!)) known[count++] = k;
  return known.subarray(0, count);
}

/**
 * Minus the current through a first-order lag of each time constant, every so many samples, into a column each: exact for a current that
 * runs straight between the samples. One lag after the other along all samples that are as far apart as the first of them.
 */
function lagInto(
  columns: readonly Float64Array[],
  timeConstantsS: readonly number[],
  timeS: Float64Array,
  amps: Float64Array,
  every: number,
): void {
  // Four lags side by side: one alone waits for itself. What four do not divide is filled up with columns that nobody reads.
  const all = [...columns];
  while (all.length % 4 !== 0) all.push(new Float64Array(columns[0]!.length));
  const lags = new Float64Array(all.length).fill(amps[0]!);
  for (const column of all) column[0] = -amps[0]!;
  let from = 1;
  while (from < amps.length) {
    const step = timeS[from]! - timeS[from - 1]!;
    let end = from + 1;
    // Steps of most logs are alike but for the last digit of their clock.
    while (end < amps.length && Math.abs(timeS[end]! - timeS[end - 1]! - step) <= SAME_STEP * step) end++;
    const kept = Float64Array.from(all, (_, m) => Math.exp(-step / (timeConstantsS[m] ?? 1)));
    const part = kept.map((share, m) => ((1 - share) * (timeConstantsS[m] ?? 1)) / step);
    for (let m = 0; m < all.length; m += 4) followFour(all, lags, kept, part, m, amps, from, end, every);
    from = end;
  }
}

/** Lags m to m + 3 from one sample up to another; `kept` of a lag after a step, and the `part` of it that lies within the step. */
function followFour(
  columns: readonly Float64Array[],
  lags: Float64Array,
  kept: Float64Array,
  part: Float64Array,
  m: number,
  amps: Float64Array,
  from: number,
  end: number,
  every: number,
): void {
  const [c0, c1, c2, c3] = [columns[m]!, columns[m + 1]!, columns[m + 2]!, columns[m + 3]!];
  const [k0, k1, k2, k3] = [kept[m]!, kept[m + 1]!, kept[m + 2]!, kept[m + 3]!];
  const [p0, p1, p2, p3] = [part[m]!, part[m + 1]!, part[m + 2]!, part[m + 3]!];
  let [l0, l1, l2, l3] = [lags[m]!, lags[m + 1]!, lags[m + 2]!, lags[m + 3]!];
  let before = amps[from - 1]!;
  let row = Math.ceil(from / every);
  let next = row * every;
  for (let j = from; j < end; j++) {
    const now = amps[j]!;
    l0 = l0 * k0 + before * (p0 - k0) + now * (1 - p0);
    l1 = l1 * k1 + before * (p1 - k1) + now * (1 - p1);
    l2 = l2 * k2 + before * (p2 - k2) + now * (1 - p2);
    l3 = l3 * k3 + before * (p3 - k3) + now * (1 - p3);
    before = now;
    if (j !== next) continue;
    c0[row] = -l0;
    c1[row] = -l1;
    c2[row] = -l2;
    c3[row++] = -l3;
    next += every;
  }
  lags[m] = l0;
  lags[m + 1] = l1;
  lags[m + 2] = l2;
  lags[m + 3] = l3;
}

function chargeDrawn(timeS: Float64Array, amps: Float64Array): number {
  let sum = 0;
  for (let j = 1; j < amps.length; j++) sum += (((amps[j - 1]! + amps[j]!) / 2) * (timeS[j]! - timeS[j - 1]!)) / 3600;
  return Math.abs(sum);
}

/** The usual length of a load step, s: between changes of the current by more than a third of its whole range. */
export function usualStepS(timeS: Float64Array, current: Float64Array): number {
  let [least, most] = [Infinity, -Infinity];
  for (const i of current) {
    if (i < least) least = i;
    if (i > most) most = i;
  }
  const limit = (most - least) / 3;
  const lengths: number[] = [];
  let [startS, level] = [timeS[0]!, NaN];
  for (let k = 0; k < timeS.length; k++) {
    const i = current[k]!;
    if (Number.isNaN(i)) continue;
    if (Number.isNaN(level)) level = i;
    else if (Math.abs(i - level) > limit) {
      lengths.push(timeS[k]! - startS);
      [startS, level] = [timeS[k]!, i];
    }
  }
  lengths.push(timeS.at(-1)! - startS);
  const whole = lengths.slice(1, -1);
  const sorted = (whole.length > 0 ? whole : lengths).sort((a, b) => a - b);
  return sorted[sorted.length >> 1]!;
}
