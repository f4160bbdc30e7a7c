import { decisionWords } from './decision-words.js';
import { dominatedSetups, weightRanges, type Dominated, type WeightRange } from './weight-ranges.js';
import { weighUp, type Candidate, type Use, type WeighedSetup, type WeighedUp } from './weigh-up.js';
import { worthMeasuring, type MeasurementWorth } from './worth-measuring.js';

/** A weight that may rise without end has no `high`. */
export interface BoundedWeightRange extends Omit<WeightRange, 'high'> {
  readonly high: number | null;
}
/** Everything that is said of setups for one use. */
export interface WeighedForUse extends WeighedUp {
  readonly setups: readonly WeighedSetup[];
  readonly ranges: readonly BoundedWeightRange[];
  readonly dominated: readonly Dominated[];
  /** The runs that would tell most, the first first. */
  readonly measuring: readonly MeasurementWorth[];
  readonly words: string;
}

/** Same numbers, same answer. */
export const DECISION_SEED = 20_261;
const MEASUREMENTS_SHOWN = 8;

/** Weighs setups up for a use, and what would turn that. `draws` fewer than usual for an answer while a slider moves. */
export function weighForUse(
  use: Use,
  candidates: readonly Candidate[],
  seed = DECISION_SEED,
  draws?: number,
): WeighedForUse {
  const weighed = weighUp(use, candidates, seed, draws);
  const measuring = worthMeasuring(use, candidates);
  return {
    ...weighed,
    ranges: weightRanges(use, weighed).map((range) => ({
      ...range,
      high: Number.isFinite(range.high) ? range.high : null,
    })),
    dominated: dominatedSetups(use, weighed),
    measuring: measuring.filter(({ gain }) => gain > 0).slice(0, MEASUREMENTS_SHOWN),
    words: decisionWords(use, weighed, measuring),
  };
}
