import { PASCALS_PER_PSI, KILOGRAMS_PER_POUND, METRES_PER_FOOT, METRES_PER_MILE, MPS_PER_KNOT } from './constants.js';

/** `si = (value + offset) · factor`: the offset is applied first because only temperatures need one. */
export interface UnitDefinition {
  readonly dimension: Dimension;
  readonly factor: number;
  readonly offset?: number;
}
export type Dimension =
  | 'time'
  | 'speed'
  | 'acceleration'
  | 'turnRate'
  | 'length'
  | 'angle'
  | 'voltage'
  | 'current'
  | 'power'
  | 'temperature'
  | 'rotation'
  | 'fraction'
  | 'count'
  | 'torque'
  | 'heartRate'
  | 'energy'
  | 'charge'
  | 'mass'
  | 'energyPerLength'
  | 'area'
  | 'resistance'
  | 'currentDensity'
  | 'volume'
  | 'pressure';

/** Units the program reads and shows. SI inside (temperatures in °C, rotation in 1/min, position in degrees). */
export const UNITS = {
  s: { dimension: 'time', factor: 1 },
  ms: { dimension: 'time', factor: 1e-3 },
  us: { dimension: 'time', factor: 1e-6 },
  min: { dimension: 'time', factor: 60 },
  h: { dimension: 'time', factor: 3600 },
  'm/s': { dimension: 'speed', factor: 1 },
  'km/h': { dimension: 'speed', factor: 1 / 3.6 },
  mph: { dimension: 'speed', factor: METRES_PER_MILE / 3600 },
  'm/h': { dimension: 'speed', factor: 1 / 3600 },
  'ft/h': { dimension: 'speed', factor: METRES_PER_FOOT / 3600 },
  'm/s²': { dimension: 'acceleration', factor: 1 },
  kn: { dimension: 'speed', factor: MPS_PER_KNOT },
  m: { dimension: 'length', factor: 1 },
  mm: { dimension: 'length', factor: 1e-3 },
  km: { dimension: 'length', factor: 1000 },
  mi: { dimension: 'length', factor: METRES_PER_MILE },
  ft: { dimension: 'length', factor: METRES_PER_FOOT },
  deg: { dimension: 'angle', factor: 1 },
  'deg/s': { dimension: 'turnRate', factor: 1 },
  'rad/s': { dimension: 'turnRate', factor: 180 / Math.PI },
  V: { dimension: 'voltage', factor: 1 },
  mV: { dimension: 'voltage', factor: 1e-3 },
  A: { dimension: 'current', factor: 1 },
  mA: { dimension: 'current', factor: 1e-3 },
  W: { dimension: 'power', factor: 1 },
  kW: { dimension: 'power', factor: 1000 },
  '°C': { dimension: 'temperature', factor: 1 },
  '°F': { dimension: 'temperature', factor: 5 / 9, offset: -32 },
  K: { dimension: 'temperature', factor: 1, offset: -273.15 },
  rpm: { dimension: 'rotation', factor: 1 },
  Hz: { dimension: 'rotation', factor: 60 },
  '%': { dimension: 'fraction', factor: 0.01 },
  '1': { dimension: 'fraction', factor: 1 },
  level: { dimension: 'count', factor: 1 },
  Nm: { dimension: 'torque', factor: 1 },
  bpm: { dimension: 'heartRate', factor: 1 },
  Wh: { dimension: 'energy', factor: 3600 },
  kWh: { dimension: 'energy', factor: 3.6e6 },
  J: { dimension: 'energy', factor: 1 },
  kJ: { dimension: 'energy', factor: 1000 },
  Ah: { dimension: 'charge', factor: 3600 },
  mAh: { dimension: 'charge', factor: 3.6 },
  As: { dimension: 'charge', factor: 1 },
  kg: { dimension: 'mass', factor: 1 },
  lb: { dimension: 'mass', factor: KILOGRAMS_PER_POUND },
  'm²': { dimension: 'area', factor: 1 },
  'mm²': { dimension: 'area', factor: 1e-6 },
  Ω: { dimension: 'resistance', factor: 1 },
  mΩ: { dimension: 'resistance', factor: 1e-3 },
  'A/mm²': { dimension: 'currentDensity', factor: 1e6 },
  bar: { dimension: 'pressure', factor: 1e5 },
  psi: { dimension: 'pressure', factor: PASCALS_PER_PSI },
  kPa: { dimension: 'pressure', factor: 1000 },
  hPa: { dimension: 'pressure', factor: 100 },
  ml: { dimension: 'volume', factor: 1e-6 },
  'Wh/km': { dimension: 'energyPerLength', factor: 3.6 },
  'Wh/mi': { dimension: 'energyPerLength', factor: 3600 / METRES_PER_MILE },
} as const satisfies Record<string, UnitDefinition>;

export type UnitName = keyof typeof UNITS;

export function isUnitName(text: string): text is UnitName {
  return Object.hasOwn(UNITS, text);
}

export function toSi(value: number, unit: UnitName): number {
  const { factor, offset = 0 }: UnitDefinition = UNITS[unit];
  return (value + offset) * factor;
}

export function fromSi(value: number, unit: UnitName): number {
  const { factor, offset = 0 }: UnitDefinition = UNITS[unit];
  return value / factor - offset;
}
