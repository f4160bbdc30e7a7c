import { DECIDING_FIGURE_KEYS, DECIDING_FIGURES } from '@ebrix/core/compare';
import type { DecidingFigure } from '@ebrix/contract';
import type { UnitName } from '@ebrix/core/units';

interface FigureChoice {
  readonly value: DecidingFigure;
  readonly label: string;
  readonly unit: UnitName;
  readonly isLessBetter: boolean;
}

export const FIGURE_CHOICES: readonly FigureChoice[] = DECIDING_FIGURE_KEYS.map(figureChoice);

export function figureChoice(value: DecidingFigure): FigureChoice {
  const { label, unit, better } = DECIDING_FIGURES[value];
  return { value, label, unit, isLessBetter: better === 'less' };
}
