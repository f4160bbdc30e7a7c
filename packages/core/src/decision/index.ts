export { straightWorth, valueFunctionProblem, worthOf, type ValueFunction } from './value-function.js';
export {
  keysOf,
  weighUp,
  type Candidate,
  type Criterion,
  type MustHave,
  type Standing,
  type Use,
  type WeighedSetup,
  type WeighedUp,
} from './weigh-up.js';
export { dominatedSetups, weightRanges, type Dominated, type WeightRange } from './weight-ranges.js';
export { worthMeasuring, type MeasurementWorth } from './worth-measuring.js';
export { decisionWords } from './decision-words.js';
export { figureStandings, type FigureStandings, type StandingRun } from './figure-standings.js';
export {
  CRITERION_KEYS,
  criterionWords,
  FACT_CRITERIA,
  feltScaleOf,
  isFigureCriterion,
  usualWorth,
  type CriterionKey,
  type CriterionWords,
  type FactCriterion,
} from './criterion-words.js';
export { factStandings, type SetupRecord } from './fact-standings.js';
export { DECISION_SEED, weighForUse, type BoundedWeightRange, type WeighedForUse } from './weigh-for-use.js';
