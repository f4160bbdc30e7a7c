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
