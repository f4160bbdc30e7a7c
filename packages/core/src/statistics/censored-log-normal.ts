import { refusal, success, type Outcome } from '../errors/index.js';
import { normalCdf } from './distributions.js';
import { summarizeSample } from './sample-summary.js';

export interface CensoredLogNormalFit {
  readonly mu: number;
  readonly sigma: number;
  readonly median: number;
  readonly logLikelihood: number;
  readonly standardErrorOfMu: number;
  readonly standardErrorOfLogSigma: number;
}

/**
 * Log-normal fitted to distances some of which are right-censored (the ride was stopped before the pack was empty).
 *
 * Shapes: equal lengths; distances > 0 in one unit; at least two rides ridden to the end, not all equal.
 * Method: maximum likelihood in (μ, log σ) by Newton's method with step halving; errors from the observed information.
 * Source: Meeker & Escobar (1998), Statistical Methods for Reliability Data, ch. 8.
 */
export function fitCensoredLogNormal(
  distances: readonly number[],
  emptied: readonly boolean[],
): Outcome<CensoredLogNormalFit, 'too-few' | 'no-spread' | 'no-convergence'> {
  const complete = distances.filter((_, k) => emptied[k]).map(Math.log);
  if (complete.length < 2) return refusal('too-few');
  const start = summarizeSample(complete);
  if (start.variance === 0) return refusal('no-spread');
  const logs = distances.map(Math.log);
  let mu = start.mean;
  let eta = Math.log(start.variance) / 2;
  let current = logLikelihood(logs, emptied, mu, eta);
  for (let iteration = 0; iteration < 200; iteration++) {
    const { gradient, hessian } = derivatives(logs, emptied, mu, eta);
    const determinant = hessian[0] * hessian[2] - hessian[1] ** 2;
    const isConcave = determinant > 0 && hessian[0] < 0;
    let stepMu = isConcave ? -(hessian[2] * gradient[0] - hessian[1] * gradient[1]) / determinant : gradient[0] * 1e-3;
    let stepEta = isConcave ? -(hessian[0] * gradient[1] - hessian[1] * gradient[0]) / determinant : gradient[1] * 1e-3;
    let next = logLikelihood(logs, emptied, mu + stepMu, eta + stepEta);
    for (let halving = 0; halving < 60 && !(next >= current); halving++) {
      stepMu /= 2;
      stepEta /= 2;
      next = logLikelihood(logs, emptied, mu + stepMu, eta + stepEta);
    }
    mu += stepMu;
    eta += stepEta;
    current = next;
    if (Math.abs(stepMu) + Math.abs(stepEta) < 1e-13 && isConcave) {
      return success({
        mu,
        sigma: Math.exp(eta),
        median: Math.exp(mu),
        // On the scale of the distances: each complete ride carries the Jacobian 1/x.
        logLikelihood: current - complete.reduce((sum, value) => sum + value, 0),
        standardErrorOfMu: Math.sqrt(-hessian[2] / determinant),
        standardErrorOfLogSigma: Math.sqrt(-hessian[0] / determinant),
      });
    }
  }
  return refusal('no-convergence');
}

const LN_SQRT_2PI = Math.log(2 * Math.PI) / 2;
const density = (z: number): number => Math.exp((-z * z) / 2 - LN_SQRT_2PI);

function logLikelihood(logs: readonly number[], emptied: readonly boolean[], mu: number, eta: number): number {
  const sigma = Math.exp(eta);
  return logs.reduce((sum, log, k) => {
    const z = (log - mu) / sigma;
    return sum + (emptied[k] ? -eta - LN_SQRT_2PI - (z * z) / 2 : Math.log(normalCdf(-z)));
  }, 0);
}

/** Gradient and Hessian [μμ, μη, ηη] in (μ, η = log σ). */
function derivatives(logs: readonly number[], emptied: readonly boolean[], mu: number, eta: number) {
  const sigma = Math.exp(eta);
  const gradient: [number, number] = [0, 0];
  const hessian: [number, number, number] = [0, 0, 0];
  logs.forEach((log, k) => {
    const z = (log - mu) / sigma;
    // First and second derivative of the term with respect to z; z' = −1/σ by μ and −z by η.
    let first: number;
    let second: number;
    if (emptied[k]) {
      first = -z;
      second = -1;
      gradient[1] -= 1;
    } else {
      const hazard = density(z) / normalCdf(-z);
      first = -hazard;
      second = -hazard * (hazard - z);
    }
    gradient[0] -= first / sigma;
    gradient[1] -= first * z;
    hessian[0] += second / sigma ** 2;
    hessian[1] += (second * z + first) / sigma;
    hessian[2] += second * z * z + first * z;
  });
  return { gradient, hessian };
}
