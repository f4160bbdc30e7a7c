import { DECIDING_FIGURES, figureVocabulary, type VerdictVoice } from '@ebrix/core/compare';
import type { UnitSystem } from '@ebrix/core/units';
import type { Trial } from '@ebrix/contract';

/** The server's own sentences are in stored units; the page says the same pairs in the person's. */
export function voiceOf(
  { decidingFigure, smallestDifference }: Pick<Trial, 'decidingFigure' | 'smallestDifference'>,
  system: UnitSystem,
): VerdictVoice {
  const { label, unit, better } = DECIDING_FIGURES[decidingFigure];
  return { words: figureVocabulary(decidingFigure, label, better, system), smallestDifference, unit, system };
}
