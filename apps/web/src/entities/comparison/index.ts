export { ComparisonDetails } from './ComparisonDetails.js';
export { DifferenceStrips } from './DifferenceStrips.js';
export { type PointGroup, RunPoints } from './RunPoints.js';
export { type PairScale, stripsOf, VERDICT_LABELS } from './pair-scale.js';
