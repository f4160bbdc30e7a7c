import { convertUnit, displayUnit, isUnitName, type UnitName, type UnitSystem } from '@ebrix/core/units';
import { unitText } from '../../shared/format/format-quantity.js';

export interface Spanned {
  readonly key: string;
  readonly value: number;
  readonly unit: string;
  readonly interval95: readonly [number, number];
}
export interface ShownSpan {
  readonly value: string;
  readonly low: string;
  readonly high: string;
  readonly unit: string;
}

/** A foretold figure in the person's units, with no more digits than its span deserves. Shares are shown in per cent. */
export function showSpan({ value, unit, interval95: [low, high] }: Spanned, system: UnitSystem): ShownSpan {
  if (unit === '1') {
    const text = (share: number): string => (100 * share).toFixed(0);
    return { value: text(value), low: text(low), high: text(high), unit: '%' };
  }
  const from = isUnitName(unit) ? unit : undefined;
  const to = from && shownUnit(from, system, value);
  const convert = (amount: number): number => (from && to ? convertUnit(amount, from, to) : amount);
  const third = Math.abs(convert(high) - convert(low)) / 3;
  const decimals = third >= 2 ? 0 : third >= 0.2 ? 1 : 2;
  return {
    value: convert(value).toFixed(decimals),
    low: convert(low).toFixed(decimals),
    high: convert(high).toFixed(decimals),
    unit: to ? unitText(to) : unit,
  };
}

function shownUnit(unit: UnitName, system: UnitSystem, size: number): UnitName {
  return unit === 's' && size >= 300 ? 'min' : displayUnit(unit, system);
}

/** `61 min (54 to 70)`. */
export function spanText(figure: Spanned, system: UnitSystem): string {
  const { value, low, high, unit } = showSpan(figure, system);
  return `${value} ${unit} (${low} to ${high})`;
}
