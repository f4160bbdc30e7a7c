import type { ManualReadingsDto } from '@ebrix/contract';
import type { TestKind } from '@ebrix/core/analysis';
import type { UnitName } from '@ebrix/core/units';

/** Readings that are one number each, as they are named wherever they stand. */
export const NUMBER_READINGS = [
  ['tripDistanceKm', 'Trip distance', 'km'],
  ['odometerStartKm', 'Odometer before', 'km'],
  ['odometerEndKm', 'Odometer after', 'km'],
  ['displayMeanKmh', 'Average speed on display', 'km/h'],
  ['highestSpeedKmh', 'Highest speed', 'km/h'],
  ['highestSpeedBackKmh', 'Highest speed, way back', 'km/h'],
  ['lowestSpeedKmh', 'Lowest speed', 'km/h'],
  ['restVoltageStartV', 'Rest voltage, start', 'V'],
  ['restVoltageEndV', 'Rest voltage, end', 'V'],
  ['wallEnergyWh', 'Socket energy', 'Wh'],
  ['highestPowerW', 'Highest power', 'W'],
  ['typicalPowerW', 'Typical power', 'W'],
  ['highestCurrentA', 'Highest current', 'A'],
  ['lowestVoltageV', 'Lowest voltage under load', 'V'],
  ['meanHeartRateBpm', 'Mean heart rate', 'bpm'],
  ['peakHeartRateBpm', 'Highest heart rate', 'bpm'],
  ['chargeHours', 'On the charger', 'h'],
] as const satisfies readonly (readonly [keyof ManualReadingsDto, string, UnitName])[];
/** Readings of several starts or stops. */
export const SEVERAL_READINGS = [
  ['helpAfterS', 'Help felt after', 's'],
  ['helpAfterQuarterTurns', 'Help after', 'quarter turns'],
  ['runOnS', 'Ran on', 's'],
  ['brakeCutoffS', 'Brake cut after', 's'],
] as const satisfies readonly (readonly [keyof ManualReadingsDto, string, string])[];

export type NumberReading = (typeof NUMBER_READINGS)[number][0];
export type ReadingName =
  | NumberReading
  | (typeof SEVERAL_READINGS)[number][0]
  | 'barsOut'
  | 'cutBacks'
  | 'levelTable'
  | 'motorTouch';

/** What one reads off in each test, most telling first; all others are asked below. */
export const READINGS_OF: Readonly<Record<TestKind, readonly ReadingName[]>> = {
  range: [
    'tripDistanceKm',
    'restVoltageStartV',
    'restVoltageEndV',
    'wallEnergyWh',
    'odometerStartKm',
    'odometerEndKm',
    'barsOut',
    'highestSpeedKmh',
    'typicalPowerW',
    'lowestVoltageV',
  ],
  'assist-levels': ['levelTable'],
  'top-speed': ['highestSpeedKmh', 'highestSpeedBackKmh', 'highestPowerW'],
  'hill-climb': ['lowestSpeedKmh', 'highestPowerW', 'peakHeartRateBpm', 'motorTouch', 'cutBacks'],
  'assist-response': ['helpAfterS', 'helpAfterQuarterTurns', 'runOnS', 'brakeCutoffS'],
  heating: ['motorTouch', 'cutBacks', 'highestPowerW', 'highestCurrentA'],
  battery: ['wallEnergyWh', 'chargeHours', 'lowestVoltageV', 'highestCurrentA', 'barsOut'],
  'coast-down': [],
  stand: ['highestSpeedKmh', 'highestCurrentA'],
};
export const ALL_READINGS: readonly ReadingName[] = [
  ...NUMBER_READINGS.map(([key]) => key),
  ...SEVERAL_READINGS.map(([key]) => key),
  'barsOut',
  'levelTable',
  'motorTouch',
  'cutBacks',
];

/** Numbers with spaces or semicolons between them, decimal commas too; undefined for what cannot be read. */
export function readNumbers(text: string): number[] | undefined {
  const numbers = text
    .split(/[;\s]+|,\s+/u)
    .filter((part) => part !== '')
    .map((part) => Number(part.replace(',', '.')));
  return numbers.every((value) => Number.isFinite(value) && value >= 0) ? numbers : undefined;
}

/** "4 at 3.2; 3 at 6,1": so many bars left at so many km; undefined for what cannot be read. */
export function readBarsOut(text: string): NonNullable<ManualReadingsDto['barsOut']>[number][] | undefined {
  const parts = text
    .split(/[;\n]|,\s+/u)
    .map((part) => part.trim())
    .filter((part) => part !== '');
  const read = parts.flatMap((part) => {
    const match = /^(\d+)\s*(?:at|bei|@|:|\s)\s*(\d+(?:[.,]\d+)?)(?:\s*km)?$/u.exec(part);
    return match ? [{ left: Number(match[1]), km: Number(match[2]!.replace(',', '.')) }] : [];
  });
  return read.length === parts.length ? read : undefined;
}
