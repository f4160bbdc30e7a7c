import { CoreError } from '../errors/index.js';
import { seededRandom } from '../numeric/index.js';
import {
  adjustBenjaminiHochberg,
  adjustHolm,
  bootstrapDifference,
  equivalenceOfDifference,
  gamesHowell,
  hedgesG,
  kruskalWallis,
  mannWhitney,
  oneWayAnova,
  permutationTest,
  summarizeSample,
  tukeyKramer,
  welchAnova,
  welchRatioInterval,
  welchTInterval,
} from '../statistics/index.js';
import type { ComparisonInput, NamedPair, SetupRuns, SeveralSetupTests, TwoSetupTests } from './comparison.js';

const CONFIDENCE = 0.95;
const valuesOf = ({ runs }: SetupRuns): number[] => runs.map(({ value }) => value);

export function noSpread(setups: readonly SetupRuns[]): CoreError {
  return new CoreError(
    'no-spread',
    `All runs of ${setups.map(({ name }) => name).join(' and ')} give exactly the same value, so their scatter cannot be judged. Were the values copied?`,
  );
}

/** All that the methods give for two setups, beside the interval that decides. */
export function testTwo({ setups, smallestDifference, seed, resamples }: ComparisonInput): TwoSetupTests {
  const [a, b] = [valuesOf(setups[0]!), valuesOf(setups[1]!)];
  const [summaryA, summaryB] = [summarizeSample(a), summarizeSample(b)];
  const welch = welchTInterval(summaryA, summaryB, CONFIDENCE);
  const narrow = welchTInterval(summaryA, summaryB, 0.9);
  if (!welch.ok || !narrow.ok) throw noSpread(setups);
  const ratio = welchRatioInterval(a, b, CONFIDENCE);
  const g = hedgesG(summaryA, summaryB);
  const ranks = mannWhitney(a, b, CONFIDENCE);
  const random = seededRandom(seed);
  const permutation = resamples > 0 ? permutationTest(a, b, random, resamples) : undefined;
  const bootstrap =
    resamples > 0 ? bootstrapDifference(a, b, { resamples, confidenceLevel: CONFIDENCE, random }) : undefined;
  const margin =
    smallestDifference.kind === 'absolute'
      ? smallestDifference.value
      : smallestDifference.value * Math.abs(summaryB.mean);
  const w = welch.value;
  return {
    welch: { difference: w.estimate, lower: w.lower, upper: w.upper, t: w.t, df: w.degreesOfFreedom, p: w.pValue },
    ...(ratio.ok && {
      ratioOfGeometricMeans: {
        ratio: ratio.value.ratio,
        lower: ratio.value.lower,
        upper: ratio.value.upper,
        df: ratio.value.degreesOfFreedom,
        p: ratio.value.pValue,
      },
    }),
    ...(g.ok && { hedgesG: { cohenD: g.value.cohenD, exactCorrection: g.value.correction, g: g.value.g } }),
    ...(ranks.ok && {
      mannWhitney: { u: ranks.value.statistic, p: ranks.value.pValue, exact: ranks.value.exact },
      hodgesLehmann: {
        estimate: ranks.value.estimate,
        ...(ranks.value.lower !== undefined &&
          ranks.value.upper !== undefined && { lower: ranks.value.lower, upper: ranks.value.upper }),
      },
    }),
    ...(permutation?.ok && {
      permutation: {
        p: permutation.value.pValue,
        exact: permutation.value.exact,
        arrangements: permutation.value.arrangements,
      },
    }),
    ...(bootstrap?.ok && { bootstrapBca: bootstrap.value }),
    ...(margin > 0 && {
      equivalence: equivalenceOfDifference(w, { lower: narrow.value.lower, upper: narrow.value.upper }, margin),
    }),
  };
}

/** The same for three setups or more. */
export function testSeveral(setups: readonly SetupRuns[]): SeveralSetupTests {
  const groups = setups.map(valuesOf);
  const anova = oneWayAnova(groups);
  const welch = welchAnova(groups);
  const ranks = kruskalWallis(groups);
  const named = (outcome: ReturnType<typeof gamesHowell>): NamedPair[] =>
    outcome.ok
      ? outcome.value.map(({ a, b, difference, lower, upper, degreesOfFreedom, pValue }) => ({
          a: setups[a]!.name,
          b: setups[b]!.name,
          difference,
          lower,
          upper,
          df: degreesOfFreedom,
          p: pValue,
        }))
      : [];
  const welchP = groups.flatMap((a, i) =>
    groups.slice(i + 1).map((b, j) => {
      const outcome = welchTInterval(summarizeSample(a), summarizeSample(b), CONFIDENCE);
      return { a: setups[i]!.name, b: setups[i + 1 + j]!.name, p: outcome.ok ? outcome.value.pValue : 1 };
    }),
  );
  const holm = adjustHolm(welchP.map(({ p }) => p));
  const bh = adjustBenjaminiHochberg(welchP.map(({ p }) => p));
  return {
    ...(anova.ok && {
      anova: {
        f: anova.value.f,
        df1: anova.value.numeratorDf,
        df2: anova.value.denominatorDf,
        p: anova.value.pValue,
        ssBetween: anova.value.sumOfSquaresBetween,
        ssWithin: anova.value.sumOfSquaresWithin,
      },
    }),
    ...(welch.ok && {
      welchAnova: {
        f: welch.value.f,
        df1: welch.value.numeratorDf,
        df2: welch.value.denominatorDf,
        p: welch.value.pValue,
      },
    }),
    ...(ranks.ok && { kruskalWallis: { h: ranks.value.h, df: ranks.value.degreesOfFreedom, p: ranks.value.pValue } }),
    gamesHowell: named(gamesHowell(groups, CONFIDENCE)),
    tukeyKramer: named(tukeyKramer(groups, CONFIDENCE)),
    welchPairs: welchP.map((pair, k) => ({ ...pair, holm: holm[k]!, benjaminiHochberg: bh[k]! })),
  };
}
