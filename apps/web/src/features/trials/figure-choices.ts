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
  { value: 'climbTime', label: 'Time of a climb', unit: 's', isLessBetter: true },
  { value: 'verticalSpeed', label: 'Vertical speed', unit: 'm/h', isLessBetter: false },
  { value: 'energyPer100m', label: 'Energy per 100 m climbed', unit: 'Wh', isLessBetter: true },
  { value: 'twoWayTopSpeed', label: 'Top speed of both directions', unit: 'km/h', isLessBetter: false },
  { value: 'motorTemperatureRise', label: 'Rise of the motor temperature', unit: 'K', isLessBetter: true },
];
export function figureChoice(value: DecidingFigure): (typeof FIGURE_CHOICES)[number] {
  return FIGURE_CHOICES.find((choice) => choice.value === value)!;
}
