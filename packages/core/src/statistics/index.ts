export { adjustBenjaminiHochberg, adjustHolm } from './adjust-p-values.js';
export {
  compareWithBlocks,
  compareWithCovariate,
  pairsOf,
  type AdjustedComparison,
  type CovariateSlope,
} from './adjusted-means.js';
export { kruskalWallis, oneWayAnova, welchAnova, type FTest } from './analysis-of-variance.js';
export { bootstrapDifference } from './bootstrap-difference.js';
export { brownForsythe } from './brown-forsythe.js';
export { fitCensoredLogNormal, type CensoredLogNormalFit } from './censored-log-normal.js';
export {
  describeSample,
  intervalOfMean,
  sampleQuantile,
  type Interval,
  type SampleDescription,
  standardErrorOfMean,
} from './describe-sample.js';
export {
  chiSquaredQuantile,
  chiSquaredUpperTail,
  fUpperTail,
  noncentralTCdf,
  normalCdf,
  normalQuantile,
  studentTCdf,
  studentTQuantile,
  studentTTwoSided,
} from './distributions.js';
export { equivalenceOfDifference, welchEquivalence, type EquivalenceTest } from './equivalence-test.js';
export { levelsOfLooks, spentEarlySparing } from './group-sequential.js';
export { hedgesG } from './hedges-g.js';
export { isotonicRegression } from './isotonic-regression.js';
export { fitLinearModel, linearCombination, type LinearFit } from './linear-model.js';
export { pairedTInterval } from './paired-t-interval.js';
export { gamesHowell, pairInterval, tukeyKramer, type PairwiseInterval } from './pairwise-intervals.js';
export { fitClusterRobust, type RobustFit } from './cluster-robust.js';
export { fitRandomIntercept, type RandomInterceptFit } from './random-intercept.js';
export { fitPeukert, type PeukertFit } from './peukert.js';
export { permutationTest, type PermutationTest } from './permutation-test.js';
export { logNormalPrediction } from './prediction-interval.js';
export { mannWhitney, mannWhitneyNormalPValue, wilcoxonSignedRank, type ShiftEstimate } from './rank-sum.js';
export { powerOfTTest, runsForPower, type ComparisonDesign, type PowerQuestion } from './sample-size.js';
export { summarizeSample, type SampleSummary } from './sample-summary.js';
export { studentizedRangeCdf, studentizedRangeQuantile } from './studentized-range.js';
export { welchRatioInterval, welchTInterval, type MeanDifference } from './welch-t-interval.js';
export { metaAnalysis, type MetaAnalysis, type Study } from './meta-analysis.js';
export { kaplanMeier, type Lifetime, type Survival, type SurvivalPoint } from './kaplan-meier.js';
export { meanCumulativeFunction, type MeanCumulativePoint } from './mean-cumulative-function.js';
export { clusteredRate, evenCountsPValue, type ClusteredRate } from './clustered-rate.js';
export {
  clopperPearson,
  poissonRate,
  poissonRateRatio,
  type Counted,
  type PoissonRate,
  type PoissonRateRatio,
} from './poisson-rate.js';
export { powerLawProcess, type PowerLawProcess, type Watched } from './power-law-process.js';
export { fitWeibull, type WeibullFit } from './weibull.js';
export {
  fitCommonLine,
  lineCrossing,
  type CommonLine,
  type Crossing,
  type KnownScatter,
  type LinePoint,
} from './line-crossing.js';
