import { metaAnalysis, studentTQuantile, type Interval } from '../statistics/index.js';

/** What another tester found of a pair: the ratio of a to b with its 95 % interval. */
export interface RatioStudy {
  readonly name: string;
  readonly ratio: number;
  readonly lower: number;
  readonly upper: number;
  /** Of its logarithm, where it is known better than by the interval, which may have been made for several pairs or an early look. */
  readonly logStandardError?: number;
}
export interface PooledRatio {
  readonly ratio: number;
  readonly interval95: Interval;
  /** Where one more tester's ratio would lie; null for two testers. */
  readonly nextTester95: Interval | null;
  /** By what share testers differ beyond their own scatter, as a factor less one. */
  readonly between: number;
  readonly iSquared: number;
  readonly weights: readonly number[];
  readonly words: string;
}

const NORMAL_95 = 1.959964;
/** Testers who differ by less than this are said to agree. */
const AGREE = 0.02;

/**
 * Ratios of several testers put together on logarithms; null for fewer than two. Each keeps its own scatter: runs of others are never mixed into one's own.
 * Method: `metaAnalysis`, its cautious intervals. Each study's standard error is read from its interval, (ln upper − ln lower) ÷ 3.92.
 */
export function poolRatios(studies: readonly RatioStudy[]): PooledRatio | null {
  const outcome = metaAnalysis(
    studies.map(({ ratio, lower, upper, logStandardError }) => ({
      estimate: Math.log(ratio),
      standardError: logStandardError ?? (Math.log(upper) - Math.log(lower)) / (2 * NORMAL_95),
    })),
  );
  if (!outcome.ok) return null;
  const { estimate, cautiousInterval95, cautiousPrediction95, between, iSquared, weights } = outcome.value;
  const back = ({ lower, upper }: Interval): Interval => ({ lower: Math.exp(lower), upper: Math.exp(upper) });
  const factor = Math.exp(between) - 1;
  return {
    ratio: Math.exp(estimate),
    interval95: back(cautiousInterval95),
    nextTester95: cautiousPrediction95 ? back(cautiousPrediction95) : null,
    between: factor,
    iSquared,
    weights,
    words: heterogeneityWords(factor, iSquared, studies.length),
  };
}

function heterogeneityWords(factor: number, iSquared: number, count: number): string {
  const few = count < 5 ? ` With ${count} testers that is hardly known.` : '';
  if (factor < AGREE) return `The testers agree within their own scatter.${few}`;
  const share = iSquared > 0.75 ? 'most' : iSquared > 0.5 ? 'more than half' : iSquared > 0.25 ? 'some' : 'a little';
  return `The testers differ by about ${Math.round(100 * factor)} % from one another beyond their own scatter, ${share} of what is seen: their roads, riders or kits are not the same.${few}`;
}

/** A ratio with the plain 95 % interval of its own standard error, whatever the interval it was judged by. */
export function plainRatio(ratio: {
  readonly estimate: number;
  readonly logStandardError: number;
  readonly degreesOfFreedom: number;
}): Omit<RatioStudy, 'name'> {
  const factor = Math.exp(studentTQuantile(0.975, ratio.degreesOfFreedom) * ratio.logStandardError);
  const { estimate, logStandardError } = ratio;
  return { ratio: estimate, lower: estimate / factor, upper: estimate * factor, logStandardError };
}
