import type { EquivalenceTest, FTest, Interval, SampleDescription } from '../statistics/index.js';
import type { UnitName } from '../units/index.js';
import type { DesignKind } from './design/choose-design.js';
import type { AdjustedMean } from './design/design-fit.js';
import type { MoreNeeded } from './design/more-runs.js';
import type { FigureVocabulary } from './figure-vocabulary.js';
import type { VerdictKind } from './verdict.js';

/** The smallest difference that matters: in the unit of the values, or as a fraction of the other setup. */
export type SmallestDifference = { readonly kind: 'absolute' | 'relative'; readonly value: number };

/** One run, and what it was ridden under as far as the comparison goes by it. */
export interface ComparedRun {
  readonly value: number;
  /** The outing. */
  readonly block?: string;
  /** A rider, a day, a bike: one of many of its kind. */
  readonly group?: string;
  /** A condition that differs from run to run. */
  readonly covariate?: number;
  /** The logger (null when not known) and the relative standard uncertainty that its gain adds to the value. */
  readonly instrument?: { readonly id: string | null; readonly relativeUncertainty: number };
  /**
   * What the value was corrected by, and how much it moves, as a share of itself and with its sign, when that is one standard
   * uncertainty larger: "drag area of this bike" moves all runs of the bike at once, each by its own share.
   */
  readonly corrections?: readonly { readonly id: string; readonly relativeEffect: number }[];
}
export interface SetupRuns {
  readonly name: string;
  readonly runs: readonly ComparedRun[];
}
/** Two setups that cannot be told apart for a reason beyond the design: rider, direction, a condition. */
export interface KnownConfounding {
  readonly a: string;
  readonly b: string;
  /** "each was ridden by a rider of its own, so …": follows the question; then what to do. */
  readonly because: string;
  readonly mend: string;
}

export interface ComparisonInput {
  readonly setups: readonly SetupRuns[];
  readonly smallestDifference: SmallestDifference;
  readonly words: FigureVocabulary;
  /** Of the values; null where it is not known. */
  readonly unit: UnitName | null;
  readonly seed: number;
  /** 0 leaves the bootstrap and the sampled permutations out. */
  readonly resamples: number;
  /** The pairs alone, for a list of many trials. */
  readonly isBrief?: boolean;
  /** Taken instead of the design that the runs call for; the answer then holds both. */
  readonly design?: DesignKind;
  readonly confounded?: readonly KnownConfounding[];
  /** Before the last look: levels at which this one is judged, instead of 5 and 10 %. */
  readonly look?: InterimLook;
}
export interface InterimLook {
  readonly level: number;
  readonly equivalenceLevel: number;
  readonly isLast: boolean;
}

export interface PairComparison {
  readonly a: string;
  readonly b: string;
  /** Absent where the two cannot be compared. */
  readonly difference?: Interval & {
    readonly estimate: number;
    readonly standardError: number;
    readonly degreesOfFreedom: number;
    readonly t: number;
  };
  /** a ÷ b of geometric means; present where all values are positive. */
  readonly ratio?: Interval & {
    readonly estimate: number;
    readonly logStandardError: number;
    readonly degreesOfFreedom: number;
    readonly pValue: number;
  };
  readonly pValue?: number;
  readonly verdict: VerdictKind;
  readonly sentence: string;
  /** Why the two cannot be told apart, and what would settle it; no number of further runs would. */
  readonly refusal?: { readonly because: string; readonly mend: string };
  readonly more?: MoreNeeded;
  /** `more` in runs. */
  readonly moreRunsEach?: number;
  /** The interval was widened by instrument gains that do not cancel. */
  readonly instrumentUncertainty?: number;
  /** What the corrections of the two sides do not have in common, relative, standard; it is in the interval. */
  readonly correctionUncertainty?: number;
}

export interface Comparison {
  readonly setups: readonly (SampleDescription & { readonly name: string })[];
  readonly better: 'less' | 'more';
  readonly design: DesignKind;
  readonly method: { readonly name: string; readonly reason: string };
  readonly pairs: readonly PairComparison[];
  readonly sentences: readonly string[];
  readonly model?: ComparisonModel;
  /** Where another design was asked for: what the runs call for, and its answer. */
  readonly called?: {
    readonly design: DesignKind;
    readonly method: Comparison['method'];
    readonly pairs: readonly PairComparison[];
  };
  readonly repeatability?: SetupRepeatability;
  readonly smallestDifference: SmallestDifference;
  readonly seed: number;
  readonly notes: readonly string[];
  readonly twoSetups?: TwoSetupTests;
  readonly severalSetups?: SeveralSetupTests;
}
/** What the design's model found beside the pairs, on the values. */
export interface ComparisonModel {
  readonly adjustedMeans: readonly (AdjustedMean & { readonly setup: string })[];
  readonly residualSd?: number;
  /** Of outings or groups, where these are taken as a sample. */
  readonly groupSd?: number;
  readonly slope?: { readonly estimate: number; readonly standardError: number; readonly p: number };
  readonly slopesDiffer?: NamedFTest;
  readonly setupTest?: NamedFTest;
  readonly outingTest?: NamedFTest;
  readonly unequalSpread: boolean;
}
export interface NamedFTest {
  readonly f: number;
  readonly df1: number;
  readonly df2: number;
  readonly p: number;
}
export function nameFTest({ f, numeratorDf, denominatorDf, pValue }: FTest): NamedFTest {
  return { f, df1: numeratorDf, df2: denominatorDf, p: pValue };
}

/** How far a run of one setup repeats; over all setups. */
export interface SetupRepeatability {
  readonly withinSd: number;
  readonly betweenVariance: number;
  readonly intraclassCorrelation: number;
  /** Two runs alike differ by less than this 95 times in 100: 1.96·√2·s. */
  readonly coefficient: number;
  readonly reml?: { readonly withinSd: number; readonly betweenSd: number };
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
  readonly anova?: NamedFTest & { readonly ssBetween: number; readonly ssWithin: number };
  readonly welchAnova?: NamedFTest;
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
