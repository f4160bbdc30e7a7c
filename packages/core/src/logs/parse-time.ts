import { LOG_LIMITS } from './limits.js';
import type { DecimalMark } from './parse-number.js';
import { parseNumber } from './parse-number.js';

export type TimeFormat = 'number' | 'clock' | 'iso' | 'epoch-s' | 'epoch-ms';

const CLOCK = /^(\d{1,3}):([0-5]?\d)(?::([0-5]?\d(?:[.,]\d+)?))?$/;
const ISO = /^(\d{4})[-/](\d{2})[-/](\d{2})(?:[T ](\d{2}):(\d{2})(?::(\d{2}(?:[.,]\d+)?))?\s*(Z|[+-]\d{2}:?\d{2})?)?$/i;

/** Seconds since midnight or start of `h:mm:ss(.s)`; `m:ss` is taken as minutes and seconds. NaN if it is neither. */
export function parseClock(cell: string): number {
  const text = cell.trim();
  const match = text.length <= LOG_LIMITS.cellCharacters ? CLOCK.exec(text) : null;
  if (!match) return NaN;
  const [first, second] = [+match[1]!, +match[2]!];
  if (match[3] === undefined) return first * 60 + second;
  return first * 3600 + second * 60 + +match[3].replace(',', '.');
}

/** Seconds since 1970-01-01T00:00Z of an ISO 8601 date and time; a time without zone is taken as UTC. NaN if it is none. */
export function parseIso(cell: string): number {
  const text = cell.trim();
  const match = text.length <= LOG_LIMITS.cellCharacters ? ISO.exec(text) : null;
  if (!match) return NaN;
  const [, year, month, day, hour = '0', minute = '0', second = '0', zone = 'Z'] = match;
  const wholeSeconds = Date.UTC(+year!, +month! - 1, +day!, +hour, +minute) / 1000;
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
  if (share((cell) => !Number.isNaN(parseClock(cell))) > 0.5) return 'clock';
  const numbers = filled.map((cell) => parseNumber(cell, decimal)).filter((value) => !Number.isNaN(value));
  if (numbers.length <= filled.length / 2) return undefined;
  const typical = [...numbers].sort((a, b) => a - b)[numbers.length >> 1]!;
  // Between 2001 and 2100, in seconds or milliseconds since 1970; a ride's own clock never gets there.
  if (typical > 9.8e8 && typical < 4.2e9) return 'epoch-s';
  if (typical > 9.8e11 && typical < 4.2e12) return 'epoch-ms';
  return 'number';
}
