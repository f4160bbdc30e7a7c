import type { DecidingFigure } from '@ebrix/contract';
import type { UnitName } from '@ebrix/core/units';

export const FIGURE_CHOICES: readonly {
  value: DecidingFigure;
  label: string;
  unit: UnitName;
  isLessBetter: boolean;
}[] = [
  { value: 'netConsumption', label: 'Net consumption', unit: 'Wh/km', isLessBetter: true },
  {
    value: 'netConsumptionAtReference',
    label: 'Net consumption at reference conditions',
    unit: 'Wh/km',
    isLessBetter: true,
  },
  { value: 'grossConsumption', label: 'Gross consumption', unit: 'Wh/km', isLessBetter: true },
  { value: 'rangeWithReserve', label: 'Range with reserve', unit: 'km', isLessBetter: false },
  { value: 'rangeToCutoff', label: 'Range to cut-off', unit: 'km', isLessBetter: false },
  { value: 'meanMovingSpeed', label: 'Mean moving speed', unit: 'km/h', isLessBetter: false },
];
export function figureChoice(value: DecidingFigure): (typeof FIGURE_CHOICES)[number] {
  return FIGURE_CHOICES.find((choice) => choice.value === value)!;
}
