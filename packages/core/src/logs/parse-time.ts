import { LOG_LIMITS } from './limits.js';
import type { DecimalMark } from './parse-number.js';
import { parseNumber } from './parse-number.js';

/**
 * `clock` is h:mm:ss or m:ss, with or without AM and PM; `clock-hm` is h:mm, of which many rows show the same; `dmy` and `mdy` are
 * dates written in digits, with or without a time of day.
 */
export type TimeFormat = 'number' | 'clock' | 'clock-hm' | 'iso' | 'dmy' | 'mdy' | 'epoch-s' | 'epoch-ms';

const CLOCK = /^(\d{1,3}):([0-5]?\d)(?::([0-5]?\d(?:[.,]\d+)?))?(?:\s*([ap])\.?m\.?)?$/i;
/** `10.15.30`, as some languages write a time of day. */
const DOTTED_CLOCK = /^([01]?\d|2[0-3])\.([0-5]\d)\.([0-5]\d)$/;
const ISO =
  /^(\d{4})[-/](\d{2})[-/](\d{2})(?:[T ]\s?(\d{1,2}):(\d{2})(?::(\d{2}(?:[.,]\d+)?))?\s*(?:([ap])\.?m\.?)?\s*(Z|[+-]\d{2}:?\d{2})?)?$/i;
const DIGITS =
  /^(\d{1,2})[-/.](\d{1,2})[-/.](\d{4}|\d{2})(?:,?\s+(\d{1,2}):(\d{2})(?::(\d{2}(?:[.,]\d+)?))?\s*(?:([ap])\.?m\.?)?)?$/i;

const HOUR_S = 3600;
/** 12 AM is the hour after midnight, 12 PM the one after noon. */
function hourOf(hour: number, half: string | undefined): number {
  if (half === undefined) return hour;
  if (hour < 1 || hour > 12) return NaN;
  return (hour % 12) + (half.toLowerCase() === 'p' ? 12 : 0);
}

/** Seconds since midnight or start of `h:mm:ss(.s)`; `m:ss` is taken as minutes and seconds, `h:mm PM` is not. NaN if it is neither. */
export function parseClock(cell: string): number {
  const text = cell.trim();
  if (text.length > LOG_LIMITS.cellCharacters) return NaN;
  const dotted = DOTTED_CLOCK.exec(text);
  if (dotted) return +dotted[1]! * HOUR_S + +dotted[2]! * 60 + +dotted[3]!;
  const match = CLOCK.exec(text);
  if (!match) return NaN;
  const [first, second] = [+match[1]!, +match[2]!];
  if (match[3] === undefined)
    return match[4] === undefined ? first * 60 + second : hourOf(first, match[4]) * HOUR_S + second * 60;
  return hourOf(first, match[4]) * HOUR_S + second * 60 + +match[3].replace(',', '.');
}

/** Seconds since midnight of `h:mm`, of which the seconds are not told. NaN if it is none. */
export function parseHoursMinutes(cell: string): number {
  const text = cell.trim();
  const match = text.length <= LOG_LIMITS.cellCharacters ? CLOCK.exec(text) : null;
  if (!match || match[3] !== undefined) return NaN;
  return hourOf(+match[1]!, match[4]) * HOUR_S + +match[2]! * 60;
}

export type DateOrder = 'dmy' | 'mdy';
/** Seconds since 1970-01-01T00:00Z of `04.03.2026 10:00:00` and the like, taken as UTC. NaN if it is no such day. */
export function parseDigitsDate(cell: string, order: DateOrder): number {
  const text = cell.trim();
  const match = text.length <= LOG_LIMITS.cellCharacters ? DIGITS.exec(text) : null;
  if (!match) return NaN;
  const [, first, second, year, hour = '0', minute = '0', seconds = '0', half] = match;
  const [day, month] = order === 'dmy' ? [+first!, +second!] : [+second!, +first!];
  const fullYear = +year! < 100 ? 2000 + +year! : +year!;
  const midnight = Date.UTC(fullYear, month - 1, day);
  const isDay = new Date(midnight).getUTCMonth() === month - 1 && day > 0;
  return isDay ? midnight / 1000 + hourOf(+hour, half) * HOUR_S + +minute * 60 + +seconds.replace(',', '.') : NaN;
}

/** Which order the dates of a column can only be in: points write the day first; undefined where both readings are possible. */
export function findDateOrder(cells: readonly string[]): DateOrder | undefined {
  const filled = cells.filter((cell) => cell.trim() !== '');
  const can = (order: DateOrder): number => filled.filter((cell) => !Number.isNaN(parseDigitsDate(cell, order))).length;
  const [dmy, mdy] = [can('dmy'), can('mdy')];
  if (filled.some((cell) => /^\s*\d{1,2}\.\d/.test(cell)) || dmy > mdy) return 'dmy';
  return mdy > dmy ? 'mdy' : undefined;
}
export function isDigitsDate(cell: string): boolean {
  return !Number.isNaN(parseDigitsDate(cell, 'dmy')) || !Number.isNaN(parseDigitsDate(cell, 'mdy'));
}
/** A column of `10.15.30` that goes on from row to row is a time of day: days of a ride stay the same. */
export function isDottedClock(cells: readonly string[]): boolean {
  const filled = cells.map((cell) => cell.trim()).filter((cell) => cell !== '');
  return (
    filled.length > 0 && filled.every((cell) => DOTTED_CLOCK.test(cell)) && new Set(filled).size > filled.length / 4
  );
}
/** A day without a time of day. */
export function isDayAlone(cell: string): boolean {
  const text = cell.trim();
  return !text.includes(':') && (isDigitsDate(text) || !Number.isNaN(parseIso(text)));
}

/** Seconds since 1970-01-01T00:00Z of an ISO 8601 date and time; a time without zone is taken as UTC. NaN if it is none. */
export function parseIso(cell: string): number {
  const text = cell.trim();
  const match = text.length <= LOG_LIMITS.cellCharacters ? ISO.exec(text) : null;
  if (!match) return NaN;
  const [, year, month, day, hour = '0', minute = '0', second = '0', half, zone = 'Z'] = match;
  const wholeSeconds = Date.UTC(+year!, +month! - 1, +day!, hourOf(+hour, half), +minute) / 1000;
  const zoneMatch = /([+-])(\d{2}):?(\d{2})/.exec(zone);
  const offset = zoneMatch ? (zoneMatch[1] === '-' ? -1 : 1) * (+zoneMatch[2]! * 3600 + +zoneMatch[3]! * 60) : 0;
  return wholeSeconds + +second.replace(',', '.') - offset;
}

/** The way a column writes time, from some of its cells; undefined when it is none of them. */
export function findTimeFormat(cells: readonly string[], decimal: DecimalMark): TimeFormat | undefined {
  const filled = cells.filter((cell) => cell.trim() !== '');
  if (filled.length === 0) return undefined;
  const share = (test: (cell: string) => boolean): number => filled.filter(test).length / filled.length;
  if (share((cell) => !Number.isNaN(parseIso(cell))) > 0.5) return 'iso';
  if (share(isDigitsDate) > 0.5) return findDateOrder(filled) ?? 'dmy';
  if (share((cell) => !Number.isNaN(parseClock(cell))) > 0.5) return isWithoutSeconds(filled) ? 'clock-hm' : 'clock';
  const numbers = filled.map((cell) => parseNumber(cell, decimal)).filter((value) => !Number.isNaN(value));
  if (numbers.length <= filled.length / 2) return undefined;
  const typical = [...numbers].sort((a, b) => a - b)[numbers.length >> 1]!;
  // Between 2001 and 2100, in seconds or milliseconds since 1970; a ride's own clock never gets there.
  if (typical > 9.8e8 && typical < 4.2e9) return 'epoch-s';
  if (typical > 9.8e11 && typical < 4.2e12) return 'epoch-ms';
  return 'number';
}

/** `10:23` again and again is an hour and a minute with many rows in it; minutes and seconds would go on with each row. */
function isWithoutSeconds(cells: readonly string[]): boolean {
  if (cells.some((cell) => Number.isNaN(parseHoursMinutes(cell)))) return false;
  let repeated = 0;
  for (let k = 1; k < cells.length; k++) if (cells[k]!.trim() === cells[k - 1]!.trim()) repeated++;
  return repeated > cells.length / 2 || cells.every((cell) => /m/i.test(cell));
}
