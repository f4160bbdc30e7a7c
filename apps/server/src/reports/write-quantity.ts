import { convertUnit, convertUnitDifference, displayUnit, type UnitName, type UnitSystem } from '@ebrix/core/units';

const unitText = (unit: UnitName): string => (unit === '1' || unit === 'level' ? '' : unit);

/** A measured value with two digits of its standard uncertainty, in the reader's units. */
export function writeFigure(value: number, standardUncertainty: number, unit: UnitName, system: UnitSystem): string {
  const to = displayUnit(unit, system);
  const doubt = Math.abs(convertUnitDifference(standardUncertainty, unit, to));
  const decimals = doubt > 0 ? Math.min(6, Math.max(0, 1 - Math.floor(Math.log10(doubt)))) : 2;
  return `${convertUnit(value, unit, to).toFixed(decimals)} ± ${doubt.toFixed(decimals)} ${unitText(to)}`.trim();
}

/** A plain quantity to three digits. */
export function writeQuantity(value: number, unit: UnitName, system: UnitSystem, digits = 3): string {
  const to = displayUnit(unit, system);
  return `${Number(convertUnit(value, unit, to).toPrecision(digits))} ${unitText(to)}`.trim();
}

export function writeMoney(amount: number, currency: string): string {
  return `${currency} ${amount.toFixed(2)}`;
}

/** A share of draws as one says it. */
export function inHundred(share: number): string {
  const whole = Math.round(100 * share);
  if (whole === 100 && share < 1) return 'more than 99';
  return whole === 0 && share > 0 ? 'less than 1' : String(whole);
}

export function spanOf(values: readonly number[], unit: UnitName, system: UnitSystem): string {
  const [low, high] = [Math.min(...values), Math.max(...values)];
  return low === high
    ? writeQuantity(low, unit, system)
    : `${writeQuantity(low, unit, system)} to ${writeQuantity(high, unit, system)}`;
}

/** "1 run", "3 runs". */
export function count(number: number, word: string): string {
  return `${number} ${number === 1 ? word : `${word}s`}`;
}
