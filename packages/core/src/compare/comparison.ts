import type { EquivalenceTest, Interval, SampleDescription } from '../statistics/index.js';
import type { UnitName } from '../units/index.js';
import type { FigureVocabulary } from './figure-vocabulary.js';
import type { VerdictKind } from './verdict.js';

/** The smallest difference that matters: in the unit of the values, or as a fraction of the other setup. */
export type SmallestDifference = { readonly kind: 'absolute' | 'relative'; readonly value: number };

export interface SetupValues {
  readonly name: string;
  /** One value per run. */
  readonly values: readonly number[];
  /** Loggers the runs were made with, and the relative standard uncertainty each one's gain adds to every value. */
  readonly instruments?: readonly { readonly id: string; readonly relativeUncertainty: number }[];
}

export interface ComparisonInput {
  readonly setups: readonly SetupValues[];
  readonly smallestDifference: SmallestDifference;
  readonly words: FigureVocabulary;
  /** Of the values; null where it is not known. */
  readonly unit: UnitName | null;
  readonly seed: number;
  /** 0 leaves the bootstrap and the sampled permutations out. */
  readonly resamples: number;
}

export interface PairComparison {
  readonly a: string;
  readonly b: string;
  readonly difference: Interval & {
    readonly estimate: number;
    readonly standardError: number;
    readonly degreesOfFreedom: number;
  };
  /** a ÷ b of geometric means; present where all values are positive. */
  readonly ratio?: Interval & { readonly estimate: number };
  readonly pValue: number;
  readonly verdict: VerdictKind;
  readonly sentence: string;
  readonly moreRunsEach?: number;
  /** The interval was widened by instrument gains that do not cancel. */
  readonly instrumentUncertainty?: number;
}

export interface Comparison {
  readonly setups: readonly (SampleDescription & { readonly name: string })[];
  readonly method: { readonly name: string; readonly reason: string };
  readonly pairs: readonly PairComparison[];
  readonly sentences: readonly string[];
  readonly smallestDifference: SmallestDifference;
  readonly seed: number;
  readonly notes: readonly string[];
  readonly twoSetups?: TwoSetupTests;
  readonly severalSetups?: SeveralSetupTests;
}

export interface TwoSetupTests {
  readonly welch: Interval & {
    readonly difference: number;
    readonly t: number;
    readonly df: number;
    readonly p: number;
  };
  readonly ratioOfGeometricMeans?: Interval & { readonly ratio: number; readonly df: number; readonly p: number };
  readonly hedgesG?: { readonly cohenD: number; readonly exactCorrection: number; readonly g: number };
  readonly mannWhitney?: { readonly u: number; readonly p: number; readonly exact: boolean };
  readonly hodgesLehmann?: Partial<Interval> & { readonly estimate: number };
  readonly permutation?: { readonly p: number; readonly exact: boolean; readonly arrangements: number };
  readonly bootstrapBca?: Interval;
  readonly equivalence?: EquivalenceTest;
}

export interface SeveralSetupTests {
  readonly anova?: {
    readonly f: number;
    readonly df1: number;
    readonly df2: number;
    readonly p: number;
    readonly ssBetween: number;
    readonly ssWithin: number;
  };
  readonly welchAnova?: { readonly f: number; readonly df1: number; readonly df2: number; readonly p: number };
  readonly kruskalWallis?: { readonly h: number; readonly df: number; readonly p: number };
  readonly gamesHowell: readonly NamedPair[];
  readonly tukeyKramer: readonly NamedPair[];
  readonly welchPairs: readonly {
    readonly a: string;
    readonly b: string;
    readonly p: number;
    readonly holm: number;
    readonly benjaminiHochberg: number;
  }[];
}
export type NamedPair = Interval & {
  readonly a: string;
  readonly b: string;
  readonly difference: number;
  readonly df: number;
  readonly p: number;
};
