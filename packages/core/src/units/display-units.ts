import { fromSi, toSi, UNITS, type UnitDefinition, type UnitName } from './unit-table.js';

export type UnitSystem = 'metric' | 'imperial';

/** What a field unit is shown as for a person who chose imperial units; what is not listed stays. */
const IMPERIAL: Partial<Record<UnitName, UnitName>> = {
  km: 'mi',
  m: 'ft',
  'km/h': 'mph',
  'm/s': 'mph',
  'm/h': 'ft/h',
  '°C': '°F',
  kg: 'lb',
  bar: 'psi',
  'Wh/km': 'Wh/mi',
};

export function displayUnit(unit: UnitName, system: UnitSystem): UnitName {
  return system === 'imperial' ? (IMPERIAL[unit] ?? unit) : unit;
}

export function convertUnit(value: number, from: UnitName, to: UnitName): number {
  return from === to ? value : fromSi(toSi(value, from), to);
}

/** Converts a difference (an uncertainty, a rise): the offset of a temperature scale does not apply. */
export function convertUnitDifference(value: number, from: UnitName, to: UnitName): number {
  if (from === to) return value;
  const source: UnitDefinition = UNITS[from];
  const target: UnitDefinition = UNITS[to];
  return (value * source.factor) / target.factor;
}
