import { convertUnit, convertUnitDifference, displayUnit, type UnitName, type UnitSystem } from '@ebrix/core/units';

/** Long times read better in minutes. */
function shownUnit(unit: UnitName, system: UnitSystem, size: number): UnitName {
  if (unit === 's' && Math.abs(size) >= 300) return 'min';
  return displayUnit(unit, system);
}

/** Decimals so that the uncertainty shows two significant digits. */
export function decimalsFor(standardUncertainty: number): number {
  if (!(standardUncertainty > 0)) return 2;
  return Math.min(6, Math.max(0, 1 - Math.floor(Math.log10(standardUncertainty))));
}

export interface ShownFigure {
  readonly value: string;
  readonly uncertainty: string;
  readonly unit: UnitName;
}

/** A measured value in the person's units with no more digits than its uncertainty deserves. */
export function showFigure(
  value: number,
  standardUncertainty: number,
  unit: UnitName,
  system: UnitSystem,
): ShownFigure {
  const to = shownUnit(unit, system, value);
  const uncertainty = Math.abs(convertUnitDifference(standardUncertainty, unit, to));
  const decimals = decimalsFor(uncertainty);
  return {
    value: convertUnit(value, unit, to).toFixed(decimals),
    uncertainty: uncertainty.toFixed(decimals),
    unit: to,
  };
}

/** `9.62 ± 0.18 Wh/km`. */
export function formatFigure(value: number, standardUncertainty: number, unit: UnitName, system: UnitSystem): string {
  const shown = showFigure(value, standardUncertainty, unit, system);
  return `${shown.value} ± ${shown.uncertainty} ${unitText(shown.unit)}`;
}

/** A fraction in per cent: `34.4 ± 0.14 %`. */
export function formatShare(value: number, standardUncertainty: number): string {
  const decimals = decimalsFor(100 * standardUncertainty);
  return `${(100 * value).toFixed(decimals)} ± ${(100 * standardUncertainty).toFixed(decimals)} %`;
}

/** A plain quantity (a length, a mass), to `digits` significant digits. */
export function formatQuantity(value: number, unit: UnitName, system: UnitSystem, digits = 3): string {
  return `${quantityNumber(value, unit, system, digits)} ${unitText(shownUnit(unit, system, value))}`;
}

/** An axis of kilometres in the person's units: its name, and what to draw there. */
export function distanceAxis(system: UnitSystem): { readonly unit: UnitName; readonly of: (km: number) => number } {
  const unit = displayUnit('km', system);
  return { unit, of: (km) => convertUnit(km, 'km', unit) };
}

/** A way, in metres or feet while it is short and in kilometres or miles beyond. */
export function formatLength(metres: number, system: UnitSystem, digits = 3): string {
  const far = displayUnit('km', system);
  const isFar = Math.abs(convertUnit(metres, 'm', far)) >= (system === 'imperial' ? 0.25 : 1);
  return isFar ? formatQuantity(metres / 1000, 'km', system, digits) : formatQuantity(metres, 'm', system, digits);
}

/** Its number alone, where the unit is said further on. */
export function quantityNumber(value: number, unit: UnitName, system: UnitSystem, digits = 3): string {
  return plain(convertUnit(value, unit, shownUnit(unit, system, value)), digits);
}

export function plain(value: number, digits = 4): string {
  return Number(value.toPrecision(digits)).toString();
}

/** The unit as written on screen; a bare number has none. */
export function unitText(unit: UnitName): string {
  return unit === '1' || unit === 'level' ? '' : unit;
}

/** An amount of money in its own currency, as this browser writes it. */
export function formatMoney({ amount, currency }: { readonly amount: number; readonly currency: string }): string {
  return new Intl.NumberFormat(undefined, { style: 'currency', currency, currencyDisplay: 'code' }).format(amount);
}

export function formatClock(seconds: number): string {
  const whole = Math.round(seconds);
  const [h, m, s] = [Math.floor(whole / 3600), Math.floor((whole % 3600) / 60), whole % 60];
  const two = (n: number): string => String(n).padStart(2, '0');
  return h > 0 ? `${h}:${two(m)}:${two(s)}` : `${m}:${two(s)}`;
}

/** A moment as this browser writes it, to the minute. */
export function formatMoment(iso: string): string {
  return new Date(iso).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' });
}

/** How long ago, in the largest unit that says it. */
export function formatAge(iso: string): string {
  const minutes = Math.max(0, (Date.now() - Date.parse(iso)) / 60_000);
  const [count, word] =
    minutes < 120 ? [minutes, 'minute'] : minutes < 2880 ? [minutes / 60, 'hour'] : [minutes / 1440, 'day'];
  const whole = Math.max(1, Math.round(count));
  return `${whole} ${word}${whole === 1 ? '' : 's'}`;
}

/** The day as this browser writes days. */
export function formatDay(isoDay: string): string {
  const [year, month, day] = isoDay.split('-').map(Number);
  return new Date(year!, month! - 1, day).toLocaleDateString(undefined, {
    year: 'numeric',
    month: 'short',
    day: 'numeric',
  });
}

export function formatBytes(bytes: number): string {
  if (bytes >= 1024 ** 3) return `${(bytes / 1024 ** 3).toFixed(1)} GB`;
  return bytes < 1024 * 1024 ? `${Math.max(1, Math.round(bytes / 1024))} kB` : `${(bytes / 1024 / 1024).toFixed(1)} MB`;
}

/** Numbers stay on one line with what follows them: "48 V" is never torn apart. */
export function keepTogether(sentence: string): string {
  return sentence.replaceAll(/(\d) (?=\S)/g, '$1\u00a0');
}

/** The number alone, for a column whose head carries the unit. */
export function showQuantity(value: number, unit: UnitName, system: UnitSystem, digits = 3): string {
  return plain(convertUnit(value, unit, displayUnit(unit, system)), digits);
}
