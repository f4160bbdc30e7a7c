import type { Check } from '@ebrix/core/bench';
import type { FaultRate } from '@ebrix/core/life';
import type { UnitSystem } from '@ebrix/core/units';
import type {
  Letter,
  Life,
  Outing,
  RatingDto,
  RepeatedFigure,
  ReportSpec,
  RevisionDetail,
  RunSummary,
  SetupCosts,
  Trial,
  UseDto,
  Verdict,
  WeighUp,
} from '@ebrix/contract';

/** Everything that a report may tell of, gathered once. */
export interface ReportData {
  readonly spec: ReportSpec;
  readonly system: UnitSystem;
  /** Names of people are told. */
  readonly tellsNames: boolean;
  readonly trial: Trial;
  readonly verdict: Verdict;
  readonly runs: readonly { readonly letter: Letter; readonly apart: string | null; readonly run: RunSummary }[];
  readonly setups: readonly SetupOfReport[];
  readonly outings: readonly Outing[];
  readonly weighed: readonly { readonly use: UseDto; readonly answer: WeighUp }[];
  readonly ratings: readonly RatingDto[];
  readonly methods: readonly { readonly name: string; readonly version: string; readonly runs: number }[];
  /** Faults by kit over all that was fitted, the kits of this report only. */
  readonly kitRates: readonly FaultRate[];
  /** The day it is made on. */
  readonly today: string;
  /** What is in this installation was made up. */
  readonly isMadeUp: boolean;
}
export interface SetupOfReport {
  readonly letter: Letter;
  readonly name: string;
  readonly revision: RevisionDetail;
  readonly checks: readonly Check[];
  readonly costs: SetupCosts;
  readonly life: Life;
  /** Figures of all its runs, those beside this trial too. */
  readonly repeated: readonly RepeatedFigure[];
  readonly fittingHours: number | null;
  readonly difficulty: number | null;
  readonly photos: readonly { readonly caption: string; readonly data: string }[];
}
