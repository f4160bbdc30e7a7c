import { mean } from '../../numeric/index.js';
import type { Contribution } from '../figure.js';

export interface TwoWayMean {
  readonly there: number;
  readonly back: number;
  readonly value: number;
  /** What the passes of a direction differ by; none where each direction was ridden once. */
  readonly scatter: readonly Contribution[];
}

/** Mean of the two directions' means, in the unit of the speeds, each direction ridden at least once. */
export function twoWayMean(there: readonly number[], back: readonly number[]): TwoWayMean {
  const [meanThere, meanBack] = [mean(there), mean(back)];
  const degreesOfFreedom = there.length + back.length - 2;
  return {
    there: meanThere,
    back: meanBack,
    value: (meanThere + meanBack) / 2,
    scatter:
      degreesOfFreedom > 0
        ? [
            {
              source: 'scatter between passes',
              standardUncertainty: Math.sqrt(squaredErrorOfMean(there) + squaredErrorOfMean(back)) / 2,
              degreesOfFreedom,
            },
          ]
        : [],
  };
}

function squaredErrorOfMean(speeds: readonly number[]): number {
  const centre = mean(speeds);
  const squares = speeds.reduce((sum, speed) => sum + (speed - centre) ** 2, 0);
  return squares / Math.max(1, speeds.length - 1) / speeds.length;
}
