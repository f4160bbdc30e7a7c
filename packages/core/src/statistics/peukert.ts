import { refusal, success, type Outcome } from '../errors/index.js';
import { fitLinearModel } from './linear-model.js';
import { studentTQuantile } from './distributions.js';

export interface PeukertFit {
  readonly exponent: number;
  readonly standardError: number;
  readonly lower: number;
  readonly upper: number;
}

/**
 * Peukert exponent k of a pack from discharges at different currents: capacity ∝ I^(1 − k).
 *
 * Shapes: one `currentA` (mean of the discharge, A) and `capacityAh` for each discharge from full to cut-off, three or more.
 * Method: least squares of ln capacity on ln current; interval 95 % by t.
 * Fails:  `too-few` discharges, `not-separable` when all currents are alike.
 * Source: Peukert (1897), Elektrotechnische Zeitschrift 20, 287–288.
 */
export function fitPeukert(
  discharges: readonly { readonly currentA: number; readonly capacityAh: number }[],
): Outcome<PeukertFit, 'not-separable' | 'too-few'> {
  if (discharges.length < 3) return refusal('too-few');
  const fit = fitLinearModel(
    discharges.map(({ currentA }) => [1, Math.log(currentA)]),
    discharges.map(({ capacityAh }) => Math.log(capacityAh)),
  );
  if (!fit.ok) return fit;
  const { coefficients, unscaledCovariance, residualVariance, degreesOfFreedom } = fit.value;
  const exponent = 1 - coefficients[1]!;
  const standardError = Math.sqrt(residualVariance * unscaledCovariance[3]!);
  const margin = studentTQuantile(0.975, degreesOfFreedom) * standardError;
  return success({ exponent, standardError, lower: exponent - margin, upper: exponent + margin });
}
