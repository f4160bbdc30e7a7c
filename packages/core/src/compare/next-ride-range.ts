import { refusal, requirePositive, success, type Outcome } from '../errors/index.js';
import { fitCensoredLogNormal, logNormalPrediction, studentTQuantile, type Interval } from '../statistics/index.js';

export interface NextRideRange extends Interval {
  readonly median: number;
  readonly runs: number;
}

const CONFIDENCE = 0.95;

/**
 * How far the next ride will go: a prediction interval from the ranges of earlier runs, in their unit.
 *
 * Shapes: one range per run, all > 0; at least two. `systematicShare`: relative standard uncertainty that all runs share
 * (the pack's usable energy, the logger's gains), which more runs do not take away.
 * Method: log-normal prediction interval with the between-run variance, widened by the shared part in quadrature.
 * Fails:  `too-few` (< 2 runs), `not-positive`.
 */
export function nextRideRange(
  ranges: readonly number[],
  systematicShare: number,
): Outcome<NextRideRange, 'not-positive' | 'too-few'> {
  const prediction = logNormalPrediction(ranges, CONFIDENCE);
  if (!prediction.ok) return refusal(prediction.reason);
  const { median, lower, upper } = prediction.value;
  const margin = Math.hypot(Math.log(upper / lower) / 2, studentTQuantile(0.975, 1e6) * systematicShare);
  return success({ median, lower: median * Math.exp(-margin), upper: median * Math.exp(margin), runs: ranges.length });
}

export interface RiddenRange extends Interval {
  readonly median: number;
  readonly rides: number;
  readonly ridesToEmpty: number;
}

/**
 * Median range of rides until the pack was empty, those stopped early counted as "more than".
 *
 * Shapes: distances > 0 in one unit. Method: censored log-normal maximum likelihood; interval by t on μ with one degree of freedom less
 * than rides to the end, the likelihood's scatter raised by as much: without a ride stopped early it is the exact t interval.
 * Fails:  `too-few` (fewer than two rides to the end), `no-spread`, `no-convergence`.
 */
export function riddenRange(
  rides: readonly { readonly distance: number; readonly emptied: boolean }[],
): Outcome<RiddenRange, 'no-convergence' | 'no-spread' | 'too-few'> {
  for (const { distance } of rides) requirePositive({ distance });
  const fit = fitCensoredLogNormal(
    rides.map(({ distance }) => distance),
    rides.map(({ emptied }) => emptied),
  );
  if (!fit.ok) return refusal(fit.reason);
  const { median, standardErrorOfMu } = fit.value;
  const toTheEnd = rides.filter(({ emptied }) => emptied).length;
  const margin = studentTQuantile(0.975, toTheEnd - 1) * standardErrorOfMu * Math.sqrt(toTheEnd / (toTheEnd - 1));
  const factor = Math.exp(margin);
  return success({
    median,
    lower: median / factor,
    upper: median * factor,
    rides: rides.length,
    ridesToEmpty: toTheEnd,
  });
}
