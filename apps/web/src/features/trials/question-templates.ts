import type { TrialInput } from '@ebrix/contract';

export const HELD_EQUAL = [
  'same bike',
  'same rider',
  'same level',
  'same tyres and pressure',
  'same load',
  'same clothes',
  'same course and direction',
];
export const RECORDED = [
  'air temperature',
  'wind',
  'start voltage',
  'tyre pressure',
  'motor temperature at the stops',
  'gauge bars',
];

interface Template extends Pick<
  TrialInput,
  'decidingFigure' | 'furtherFigures' | 'heldEqual' | 'question' | 'recorded'
> {
  readonly name: string;
  /** Smallest difference that usually matters, %. */
  readonly smallestPercent: number;
}
const template = (
  name: string,
  question: string,
  decidingFigure: TrialInput['decidingFigure'],
  smallestPercent: number,
  furtherFigures: TrialInput['furtherFigures'],
  heldEqual: string[],
): Template => ({
  name,
  question,
  decidingFigure,
  smallestPercent,
  furtherFigures,
  heldEqual,
  recorded: ['air temperature', 'wind', 'start voltage'],
});

/** The questions that come up again and again, with the figure that usually decides them. */
export const QUESTION_TEMPLATES: readonly Template[] = [
  template(
    'Kit against kit on the same bike',
    'Which kit uses less energy on our round?',
    'netConsumption',
    5,
    ['meanMovingSpeed', 'rangeWithReserve'],
    ['same bike', 'same rider', 'same level', 'same tyres and pressure'],
  ),
  template(
    'Nominal voltage, such as 48 or 52',
    'Does the higher voltage go farther?',
    'rangeToCutoff',
    5,
    ['meanMovingSpeed', 'netConsumption'],
    ['same kit', 'same rider', 'same level'],
  ),
  template(
    'One pack or two',
    'How much farther do two packs go than one?',
    'rangeToCutoff',
    10,
    ['netConsumption'],
    ['same kit', 'same rider', 'same level'],
  ),
  template(
    'With and without a cooling add-on',
    'Does the cooling add-on keep the motor cooler on the climb?',
    'motorTemperatureRise',
    10,
    ['climbTime', 'energyPer100m'],
    ['same kit', 'same load', 'same start temperature'],
  ),
  template(
    'Assist levels',
    'Does level 3 go as far as level 2?',
    'netConsumption',
    5,
    ['meanMovingSpeed'],
    ['same kit', 'same rider', 'same pedalling'],
  ),
  template(
    'Controller inside or outside the hub',
    'Does an outside controller keep the hub cooler?',
    'motorTemperatureRise',
    10,
    ['climbTime'],
    ['same motor', 'same load', 'same level'],
  ),
  template(
    'Tyres',
    'Do puncture-proof tyres cost energy?',
    'netConsumption',
    4,
    ['meanMovingSpeed'],
    ['same kit', 'same rider', 'same pressure'],
  ),
  template(
    'Payload',
    'What does twenty kilos more cost on the hill?',
    'energyPer100m',
    5,
    ['climbTime', 'motorTemperatureRise'],
    ['same kit', 'same rider', 'same level'],
  ),
  template(
    'Throttle only or pedalling',
    'How much energy does pedalling save?',
    'netConsumption',
    5,
    ['meanMovingSpeed'],
    ['same kit', 'same rider', 'same speed'],
  ),
  template(
    'Hub motor or mid motor on a climb',
    'Which motor climbs our hill with less energy?',
    'energyPer100m',
    5,
    ['climbTime', 'motorTemperatureRise'],
    ['same bike', 'same rider', 'same pack'],
  ),
];
