import { refusal, requireFinite, requirePositive, success, type Outcome } from '../errors/index.js';
import { chiSquaredUpperTail, studentTQuantile, studentTTwoSided } from './distributions.js';
import type { Interval } from './describe-sample.js';

/** One tester's result: an effect, for example the logarithm of a ratio, with its standard error. */
export interface Study {
  readonly estimate: number;
  readonly standardError: number;
}
/** What several testers' results say together. */
export interface MetaAnalysis {
  readonly estimate: number;
  readonly standardError: number;
  readonly degreesOfFreedom: number;
  readonly pValue: number;
  readonly interval95: Interval;
  /** The same, never narrower than the studies' own standard errors allow: few studies may agree by luck. */
  readonly cautiousInterval95: Interval;
  /** Where the effect of one more tester would lie. */
  readonly prediction95: Interval;
  /** The same on one degree of freedom less, for the spread between testers is estimated too; absent for two studies. */
  readonly cautiousPrediction95?: Interval;
  /** Standard deviation of the effects between testers. */
  readonly between: number;
  readonly q: { readonly value: number; readonly degreesOfFreedom: number; readonly pValue: number };
  /** Share of the variance that lies between testers, 0…1. */
  readonly iSquared: number;
  /** Shares of the studies in the estimate, summing to 1. */
  readonly weights: readonly number[];
}

const GRID = 400;
const BISECTIONS = 200;

/**
 * Random-effects meta-analysis: variance between studies by REML, mean with Hartung and Knapp's standard error and t on k − 1 degrees of
 * freedom, prediction interval on the same.
 *
 * `cautiousInterval95`: the scale of the scatter is taken as at least 1 (Knapp & Hartung 2003), as where testers agree better than their errors allow.
 * Shapes: two studies or more; estimates and standard errors in one unit. Method: Viechtbauer (2005) for REML, Hartung & Knapp (2001),
 *         Higgins, Thompson & Spiegelhalter (2009) for the prediction interval, Higgins & Thompson (2002) for I².
 * Fails:  `too-few`; throws `not-positive` for a standard error of nothing.
 */
export function metaAnalysis(studies: readonly Study[]): Outcome<MetaAnalysis, 'too-few'> {
  for (const { estimate, standardError } of studies) {
    requireFinite({ estimate });
    requirePositive({ standardError });
  }
  if (studies.length < 2) return refusal('too-few');
  const variances = studies.map(({ standardError }) => standardError ** 2);
  const tau2 = betweenVariance(studies, variances);
  const weights = variances.map((variance) => 1 / (variance + tau2));
  const whole = sum(weights);
  const estimate = pooled(studies, weights);
  const degreesOfFreedom = studies.length - 1;
  const scatter = sum(studies.map((study, k) => weights[k]! * (study.estimate - estimate) ** 2)) / degreesOfFreedom;
  const standardError = Math.sqrt(scatter / whole);
  const t = studentTQuantile(0.975, degreesOfFreedom);
  const cautious = Math.max(standardError, Math.sqrt(1 / whole));
  const fixed = variances.map((variance) => 1 / variance);
  const middle = pooled(studies, fixed);
  const q = sum(studies.map((study, k) => fixed[k]! * (study.estimate - middle) ** 2));
  const typical = (degreesOfFreedom * sum(fixed)) / (sum(fixed) ** 2 - sum(fixed.map((w) => w ** 2)));
  const spread = Math.hypot(Math.sqrt(tau2), standardError);
  return success({
    estimate,
    standardError,
    degreesOfFreedom,
    pValue:
      standardError === 0 ? (estimate === 0 ? 1 : 0) : studentTTwoSided(estimate / standardError, degreesOfFreedom),
    interval95: around(estimate, t * standardError),
    cautiousInterval95: around(estimate, t * cautious),
    prediction95: around(estimate, t * spread),
    ...(degreesOfFreedom > 1 && {
      cautiousPrediction95: around(
        estimate,
        studentTQuantile(0.975, degreesOfFreedom - 1) * Math.hypot(Math.sqrt(tau2), cautious),
      ),
    }),
    between: Math.sqrt(tau2),
    q: { value: q, degreesOfFreedom, pValue: chiSquaredUpperTail(q, degreesOfFreedom) },
    iSquared: tau2 / (tau2 + typical),
    weights: weights.map((weight) => weight / whole),
  });
}

const around = (middle: number, half: number): Interval => ({ lower: middle - half, upper: middle + half });
const sum = (values: readonly number[]): number => values.reduce((total, value) => total + value, 0);

function pooled(studies: readonly Study[], weights: readonly number[]): number {
  return sum(studies.map(({ estimate }, k) => weights[k]! * estimate)) / sum(weights);
}

/** The variance between studies at which the restricted likelihood is highest; 0 where it falls from there. */
function betweenVariance(studies: readonly Study[], variances: readonly number[]): number {
  const at = (tau2: number): { likelihood: number; score: number } => {
    const weights = variances.map((variance) => 1 / (variance + tau2));
    const mean = pooled(studies, weights);
    const whole = sum(weights);
    const squares = sum(studies.map(({ estimate }, k) => weights[k]! * (estimate - mean) ** 2));
    const likelihood = 0.5 * (sum(weights.map(Math.log)) - Math.log(whole) - squares);
    const score =
      0.5 *
      (sum(studies.map(({ estimate }, k) => (weights[k]! * (estimate - mean)) ** 2)) +
        sum(weights.map((w) => w ** 2)) / whole -
        whole);
    return { likelihood, score };
  };
  const estimates = studies.map(({ estimate }) => estimate);
  const span = Math.max(...estimates) - Math.min(...estimates);
  const most = 4 * span ** 2 + Math.max(...variances);
  const least = 1e-8 * Math.min(...variances);
  const grid = [0, ...Array.from({ length: GRID }, (_, k) => least * (most / least) ** (k / (GRID - 1)))];
  const likelihoods = grid.map((tau2) => at(tau2).likelihood);
  const best = likelihoods.indexOf(Math.max(...likelihoods));
  let [low, high] = [grid[Math.max(0, best - 1)]!, grid[Math.min(GRID, best + 1)]!];
  if (best === 0 && at(0).score <= 0) return 0;
  // The score falls through nothing at the top.
  for (let k = 0; k < BISECTIONS; k++) {
    const middle = (low + high) / 2;
    if (at(middle).score > 0) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
