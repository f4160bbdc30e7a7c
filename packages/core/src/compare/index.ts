export { compareDesigned, type DesignedComparison, type DesignedRow } from './compare-designed.js';
export {
  compareSetups,
  type Comparison,
  type ComparisonInput,
  type PairComparison,
  type SetupValues,
  type SmallestDifference,
} from './compare-setups.js';
export { DECIDING_FIGURES, figureWords, type FigureWords } from './figure-words.js';
export { classifyDifference, verdictSentence, type VerdictKind } from './verdict.js';
