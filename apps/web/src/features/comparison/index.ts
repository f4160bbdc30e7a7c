export { DifferenceStrips } from './DifferenceStrips.js';
export { stripsOf, VERDICT_LABELS, type PairScale, type PairStrip } from './pair-scale.js';
export { RunPoints, type PointGroup } from './RunPoints.js';
export { ComparisonDetails } from './ComparisonDetails.js';
