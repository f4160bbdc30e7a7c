import Papa from 'papaparse';
import { convertUnit } from '../units/index.js';
import { LIFE_KINDS, type LifeKind } from './entries.js';
import { LIFE_PART_KEYS, LIFE_PARTS, type LifePartKey } from './parts.js';

/** A row of a spreadsheet as an entry; what stood in no column is null or empty. Units: km, kWh, h. */
export interface PastedEntry {
  readonly line: number;
  readonly day: string;
  /** As written; which bike that is the page knows. */
  readonly bike: string;
  readonly kind: LifeKind;
  readonly km: number | null;
  readonly part: LifePartKey | null;
  readonly words: string;
  readonly kWh: number | null;
  readonly value: number | null;
  readonly amount: number | null;
}
export interface PasteProblem {
  readonly line: number;
  readonly message: string;
}
export interface Pasted {
  readonly entries: readonly PastedEntry[];
  readonly problems: readonly PasteProblem[];
}

type Column = 'amount' | 'bike' | 'day' | 'kWh' | 'km' | 'kind' | 'part' | 'value' | 'words';
const HEADERS: readonly (readonly [Column, RegExp])[] = [
  ['day', /^(day|date|when|datum|fecha|tag)\b/i],
  ['bike', /^(bike|name|setup|who|which|rad|fahrrad|bici|vélo|velo)\b/i],
  ['kind', /^(kind|what|type|entry|art|was|tipo)\b/i],
  ['kWh', /^(k?wh|energy|energie|energía)\b/i],
  ['km', /^(km|odo|odometer|distance|kilomet|stand|mi\b|miles?\b)/i],
  ['part', /^(part|component|teil|pieza|pièce)\b/i],
  ['value', /^(value|reading|measured|wert|wear)\b/i],
  ['amount', /^(cost|price|amount|eur|€|kosten|preis)/i],
  ['words', /^(words|notes?|text|remark|comment|description|bemerkung|notiz)\b/i],
];
const KM_PER_MILE = convertUnit(1, 'mi', 'km');
const KIND_WORDS: readonly (readonly [LifeKind, RegExp])[] = [
  ['odometer', /^(odo|reading|km|tacho|stand|trip)/i],
  ['charge', /^(charg|load|laden|carga)/i],
  ['fault', /^(fault|fail|broke|defect|trouble|problem|defekt|panne|avería)/i],
  ['replacement', /^(repl|new|part replaced|swap|ersatz|neu)/i],
  ['service', /^(serv|mainten|wartung)/i],
  ['inspection', /^(insp|check|look|kontrolle|measure)/i],
  ['accident', /^(acc|crash|fall|unfall)/i],
  ['fitted', /^(fitted|kit fitted|fit|mounted|montiert)/i],
  ['taken-off', /^(taken|removed|kit taken|off)/i],
  ['note', /^(note|remark|notiz)/i],
];

/**
 * Rows copied out of a spreadsheet: a heading names the columns (day, bike, what, km, part, words, kWh, reading, cost), in any order; tabs, semicolons or commas. A heading in miles or Wh is
 * taken at its word.
 * A day is 2026-04-07 or 7.4.2026; 4/7/2026 is refused, as it is two days. Every row that cannot be read is named with its line.
 */
export function readPasted(text: string): Pasted {
  const { data } = Papa.parse<string[]>(text.trim(), { skipEmptyLines: 'greedy', delimitersToGuess: ['\t', ';', ','] });
  const [heading, ...rows] = data;
  if (!heading) return { entries: [], problems: [{ line: 1, message: 'Nothing was pasted.' }] };
  const columns = heading.map((cell) => HEADERS.find(([, pattern]) => pattern.test(cell.trim()))?.[0]);
  const factors = heading.map((cell) => (/\bmi(les?)?\b/i.test(cell) ? KM_PER_MILE : /\bwh\b/i.test(cell) ? 0.001 : 1));
  if (!columns.includes('day'))
    return {
      entries: [],
      problems: [
        {
          line: 1,
          message:
            'The first line has to name the columns; one of them is “day”. For example: day, bike, what, km, part, words.',
        },
      ],
    };
  const entries: PastedEntry[] = [];
  const problems: PasteProblem[] = [];
  for (const [k, row] of rows.entries()) {
    const line = k + 2;
    const cell = (column: Column): string => {
      const at = columns.indexOf(column);
      return at < 0 ? '' : (row[at] ?? '').trim();
    };
    const day = readDay(cell('day'));
    const inUnit = (column: Column): number | null => {
      const value = readNumber(cell(column));
      return value === null ? null : value * factors[columns.indexOf(column)]!;
    };
    const numbers = {
      km: inUnit('km'),
      kWh: inUnit('kWh'),
      value: readNumber(cell('value')),
      amount: readNumber(cell('amount')),
    };
    const bad = Object.entries(numbers).find(([, value]) => Number.isNaN(value));
    const part = cell('part') === '' ? null : partNamed(cell('part'));
    const kind = readKind(cell('kind'), numbers.kWh, part, numbers.value);
    if (day === undefined)
      problems.push({ line, message: `“${cell('day')}” is no day: write 2026-04-07 or 7.4.2026.` });
    else if (bad)
      problems.push({
        line,
        message: `“${cell(bad[0] as Column)}” under ${bad[0]} is no number, or two: write it without a mark between thousands, and decimals to one or two places.`,
      });
    else if (kind === undefined)
      problems.push({
        line,
        message: `“${cell('kind')}” is no kind of entry. Known: ${Object.values(LIFE_KINDS).join(', ').toLowerCase()}.`,
      });
    else if (part === undefined)
      problems.push({
        line,
        message: `“${cell('part')}” is no part that is kept count of. Write “other” and say it in words.`,
      });
    else
      entries.push({
        line,
        day,
        bike: cell('bike'),
        kind,
        part,
        words: cell('words'),
        ...(numbers as Record<keyof typeof numbers, number | null>),
      });
  }
  return { entries, problems };
}

function readDay(text: string): string | undefined {
  const iso = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(text);
  const dotted = /^(\d{1,2})\.(\d{1,2})\.(\d{4})$/.exec(text);
  const slashed = /^(\d{1,2})\/(\d{1,2})\/(\d{4})$/.exec(text);
  const parts = iso
    ? [iso[1]!, iso[2]!, iso[3]!]
    : dotted
      ? [dotted[3]!, dotted[2]!, dotted[1]!]
      : slashed && Number(slashed[1]) > 12
        ? [slashed[3]!, slashed[2]!, slashed[1]!]
        : slashed && Number(slashed[2]) > 12
          ? [slashed[3]!, slashed[1]!, slashed[2]!]
          : undefined;
  if (!parts) return undefined;
  const day = parts.map((part, k) => part.padStart(k === 0 ? 4 : 2, '0')).join('-');
  const date = new Date(`${day}T00:00:00Z`);
  return Number.isNaN(date.getTime()) || date.toISOString().slice(0, 10) !== day ? undefined : day;
}

/** Null for nothing, NaN for what is no number, or two of them: 1.240 is either; decimal comma and thin gaps are read, units behind it are not minded. */
function readNumber(text: string): number | null {
  if (text === '') return null;
  const bare = text.replace(/[\s\u00A0\u202F]|km|kwh|eur|€|mm|%/gi, '');
  if (/^[1-9]\d{0,2}[.,]\d{3}$/.test(bare)) return NaN;
  return /^-?\d+([.,]\d+)?$/.test(bare) ? Number(bare.replace(',', '.')) : NaN;
}

/** The part that words name: its label, its key or the beginning of one, in the singular or plural. */
export function partNamed(text: string): LifePartKey | undefined {
  const wanted = text.toLowerCase().replace(/s$/, '');
  return LIFE_PART_KEYS.find(
    (key) =>
      key.replace('-', ' ').startsWith(wanted) ||
      LIFE_PARTS[key].label.toLowerCase().startsWith(wanted) ||
      key === text,
  );
}

function readKind(
  text: string,
  kWh: number | null,
  part: LifePartKey | null | undefined,
  value: number | null,
): LifeKind | undefined {
  if (text !== '') return KIND_WORDS.find(([, pattern]) => pattern.test(text))?.[0];
  if (kWh !== null) return 'charge';
  if (value !== null && part) return 'inspection';
  return part ? 'fault' : 'odometer';
}
