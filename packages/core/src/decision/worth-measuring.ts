import { normalQuantile } from '../statistics/index.js';
import { keysOf, type Candidate, type Use } from './weigh-up.js';
import { worthOf } from './value-function.js';

/** What one more run or outing of a setup for one figure is worth: by how much the chosen setup gets better in the mean, and how often another one is chosen. */
export interface MeasurementWorth {
  readonly name: string;
  readonly key: string;
  /** Expected gain in worth, 0…1. */
  readonly gain: number;
  /** Share of the outcomes after which another setup leads. */
  readonly turns: number;
}

/** Values of a figure, and outcomes of the next run, that are gone through. */
const VALUES = 400;
const OUTCOMES = 200;

/**
 * Expected value of one more run for every setup and figure, the largest first.
 *
 * A mean of n runs with own variance u² has, before the next run is ridden, a mean that may move by u²/(n + 1); what an instrument shares
 * stays. For each such outcome the setup with the largest mean worth is chosen; the gain is what that is above the choice made now.
 * Method: preposterior analysis with a normal mean (Raiffa & Schlaifer 1961, ch. 5), over equally likely values. Bounds are left aside: a setup that
 * breaks one is not made better by being measured.
 */
export function worthMeasuring(use: Use, candidates: readonly Candidate[]): MeasurementWorth[] {
  const keys = keysOf({ ...use, mustHaves: [] });
  const known = candidates.filter(({ standings }) => keys.every((key) => standings[key] !== undefined));
  const wholeWeight = use.criteria.reduce((sum, { weight }) => sum + weight, 0) || 1;
  const normals = normalScores(VALUES);
  const outcomes = normalScores(OUTCOMES);
  const meanWorth = (of: Use['criteria'][number], value: number, spread: number): number =>
    spread === 0
      ? worthOf(of.worth, value)
      : normals.reduce((sum, z) => sum + worthOf(of.worth, value + spread * z), 0) / normals.length;
  const now = known.map(({ standings }) =>
    use.criteria.reduce((sum, criterion) => {
      const standing = standings[criterion.key];
      if (!standing || criterion.weight === 0) return sum;
      return (
        sum + (criterion.weight * meanWorth(criterion, standing.value, standing.standardUncertainty)) / wholeWeight
      );
    }, 0),
  );
  const best = Math.max(...now);
  const leader = now.indexOf(best);
  return known
    .flatMap(({ name, standings }, s) =>
      use.criteria.flatMap((criterion): MeasurementWorth[] => {
        const standing = standings[criterion.key];
        if (!standing || criterion.weight === 0) return [];
        const { value, standardUncertainty: u, sharedUncertainty = 0, n = 1 } = standing;
        const own = u ** 2 - sharedUncertainty ** 2;
        const moves = Math.sqrt(Math.max(0, own / (n + 1)));
        if (moves === 0) return [{ name, key: criterion.key, gain: 0, turns: 0 }];
        const left = Math.sqrt(Math.max(0, u ** 2 - moves ** 2));
        const weight = criterion.weight / wholeWeight;
        const before = meanWorth(criterion, value, u);
        const others = Math.max(...now.filter((_, k) => k !== s), -Infinity);
        let [sum, turned] = [0, 0];
        for (const z of outcomes) {
          const after = now[s]! + weight * (meanWorth(criterion, value + moves * z, left) - before);
          sum += Math.max(after, others);
          if (after > others !== (s === leader)) turned++;
        }
        return [
          {
            name,
            key: criterion.key,
            gain: Math.max(0, sum / outcomes.length - best),
            turns: turned / outcomes.length,
          },
        ];
      }),
    )
    .sort((a, b) => b.gain - a.gain);
}

/** Middles of so many equally likely parts of the normal distribution. */
function normalScores(count: number): number[] {
  return Array.from({ length: count }, (_, k) => normalQuantile((k + 0.5) / count));
}
