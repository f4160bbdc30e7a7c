import { convertUnit, UNITS, type UnitName } from '@ebrix/core/units';
import { parseUnit } from '@ebrix/core/logs';

/**
 * Reads what a person typed ("23,5", "28 mph") into `unit`: undefined for an empty field, NaN for what cannot be read.
 * A number without a unit is in `shown`, the unit the field shows.
 */
export function parseQuantity(text: string, unit: UnitName, shown: UnitName): number | undefined {
  const trimmed = text.trim();
  if (trimmed === '') return undefined;
  const match = /^([+-]?\d*(?:[.,]\d+)?)\s*(\D.*)?$/u.exec(trimmed);
  if (!match || match[1] === '' || match[1] === '+' || match[1] === '-') return NaN;
  const value = Number(match[1]!.replace(',', '.'));
  const written = match[2]?.trim();
  if (!written) return convertUnit(value, shown, unit);
  const typed = parseUnit(written);
  if (!typed || UNITS[typed].dimension !== UNITS[unit].dimension) return NaN;
  return convertUnit(value, typed, unit);
}
