export { compareDesigned, type DesignedComparison, type DesignedRow } from './compare-designed.js';
export { type DesignKind } from './design/choose-design.js';
export { moreNeeded, type MoreNeeded } from './design/more-runs.js';
export {
  assessClaim,
  assessRiddenClaim,
  byClaimedWay,
  type ClaimAssessment,
  type RunOfClaim,
} from './claims/assess-claim.js';
export { impliedConsumption, USUAL_ROAD, type ImpliedConsumption } from './claims/implied-consumption.js';
export { figureOverTime, type DatedRun, type GroupOfRuns, type OverTime } from './over-time.js';
export { compareSetups } from './compare-setups.js';
export { simulateTrial, type SimulatedTrial, type TrialLayout } from './simulate-trials.js';
export {
  type Comparison,
  type ComparisonInput,
  type ComparedRun,
  type KnownConfounding,
  type PairComparison,
  type InterimLook,
  type SetupRuns,
  type SmallestDifference,
} from './comparison.js';
export { firstImpression, type FirstImpression, type OneRide } from './first-impression.js';
export { compareTable, type TableColumns, type TableComparison } from './compare-table.js';
export {
  DECIDING_FIGURE_KEYS,
  DECIDING_FIGURES,
  figureVocabulary,
  type DecidingFigureKey,
  type FigureVocabulary,
} from './figure-vocabulary.js';
export { nextRideRange, riddenRange, type NextRideRange, type RiddenRange } from './next-ride-range.js';
export { classifyDifference, moreText, verdictSentence, type VerdictKind } from './verdict.js';
export {
  decidedFirst,
  pairSentence,
  pairSentences,
  smallestDifferenceText,
  type SpokenPair,
  type VerdictVoice,
} from './pair-sentence.js';
export {
  OPEN_RIDING,
  RIDING_FIELDS,
  RIDING_WORDS,
  type FixedRiding,
  type Riding,
  type RidingField,
} from './trial/riding.js';
export { judgeLook, type Look } from './trial/judge-look.js';
export {
  ridingText,
  sortIntoArms,
  valueText,
  type ApartReason,
  type CandidateRun,
  type OpenQuestion,
  type SortedRuns,
  type TrialArm,
} from './trial/sort-into-arms.js';
export {
  CONDITIONS,
  findConfounding,
  varyingConditions,
  type ConditionKey,
  type FactorKey,
  type NamedConfounding,
  type RunConditions,
} from './trial/find-confounding.js';
export { plainRatio, poolRatios, type PooledRatio, type RatioStudy } from './elsewhere.js';
