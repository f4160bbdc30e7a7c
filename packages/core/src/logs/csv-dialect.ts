import Papa from 'papaparse';
import { LOG_LIMITS } from './limits.js';
import { CARRIAGE_RETURN, LINE_FEED } from './line-ends.js';
import { LogProblemError } from './log-problem.js';
import type { DecimalMark } from './parse-number.js';

export type Delimiter = ',' | ';' | '\t' | '|';

export interface CsvDialect {
  readonly delimiter: Delimiter;
  /** Absent while the sample does not tell a decimal mark from a thousands mark. */
  readonly decimal?: DecimalMark;
  /** Records before the one with the column names (a logger's preamble). */
  readonly headerRecord: number;
  readonly header: readonly string[];
  /** The first records after the header. */
  readonly sample: readonly (readonly string[])[];
}

const DELIMITERS: readonly Delimiter[] = [',', ';', '\t', '|'];
const SAMPLE_CHARACTERS = 128 * 1024;
const SAMPLE_RECORDS = 200;
const LONGEST_PREAMBLE = 40;

/**
 * Finds delimiter, decimal mark and header of a table by its first lines.
 * Method: the delimiter under which most records have the same number (> 1) of fields; the header is the first record
 * of that width which holds no number; the decimal mark is whichever the sample's cells can only mean.
 * Fails: `not-a-log`, `too-many-columns`.
 */
export function findCsvDialect(text: string): CsvDialect {
  const head = cutAtLine(text, SAMPLE_CHARACTERS);
  let best: { delimiter: Delimiter; records: string[][]; score: number; width: number } | undefined;
  for (const delimiter of DELIMITERS) {
    const records = Papa.parse<string[]>(head, { delimiter, preview: SAMPLE_RECORDS + LONGEST_PREAMBLE }).data.filter(
      (record) => !(record.length === 1 && record[0]!.trim() === ''),
    );
    const { width, count } = mostUsualWidth(records);
    const score = width > 1 ? count / records.length + Math.min(width, 50) / 1000 : 0;
    if (score > (best?.score ?? 0)) best = { delimiter, records, score, width };
  }
  if (!best || best.score < 0.5)
    throw new LogProblemError({
      code: 'not-a-log',
      message:
        'No table found: the lines do not hold the same number of values separated by comma, semicolon, tab or bar. ' +
        'Export the ride as CSV or GPX.',
    });
  const { delimiter, records, width } = best;
  if (width > LOG_LIMITS.columns)
    throw new LogProblemError({
      code: 'too-many-columns',
      message: `The table has ${width} columns; at most ${LOG_LIMITS.columns} are read. Export fewer channels.`,
    });
  const headerRecord = records.findIndex(
    (record) =>
      record.length >= width * 0.8 &&
      record.filter(looksNumeric).length === 0 &&
      record.some((cell) => cell.trim() !== ''),
  );
  if (headerRecord < 0 || headerRecord > LONGEST_PREAMBLE)
    throw new LogProblemError({
      code: 'not-a-log',
      line: 1,
      message: 'No line with column names found. Put names such as "time (s)" and "speed (km/h)" above the values.',
    });
  const sample = records.slice(headerRecord + 1, headerRecord + 1 + SAMPLE_RECORDS);
  const decimal = findDecimalMark(sample, delimiter);
  return {
    delimiter,
    headerRecord,
    header: records[headerRecord]!.map((name) => name.slice(0, LOG_LIMITS.headerCharacters)),
    sample,
    ...(decimal && { decimal }),
  };
}

function cutAtLine(text: string, characters: number): string {
  if (text.length <= characters) return text;
  const end = text.lastIndexOf('\n', characters);
  return text.slice(0, end > 0 ? end : characters);
}

/** Fails: `line-too-long`. `bytes`: of a text in UTF-8, that begins with this line. Gives back the number of the line behind. */
export function requireShortLines(bytes: Uint8Array, firstLine = 1): number {
  let start = 0;
  let line = firstLine;
  while (start < bytes.length) {
    let end = bytes.indexOf(LINE_FEED, start);
    if (end < 0) end = bytes.length;
    if (end - start > LOG_LIMITS.lineCharacters && !bytes.subarray(start, end).includes(CARRIAGE_RETURN))
      throw new LogProblemError({
        code: 'line-too-long',
        line,
        message: `Line ${line} is longer than a million characters, so this is not a log. Export the ride as CSV or GPX.`,
      });
    start = end + 1;
    line++;
  }
  return line;
}

function mostUsualWidth(records: readonly (readonly string[])[]): { width: number; count: number } {
  const counts = new Map<number, number>();
  for (const record of records) counts.set(record.length, (counts.get(record.length) ?? 0) + 1);
  let width = 0;
  let count = 0;
  for (const [w, c] of counts) if (c > count || (c === count && w > width)) [width, count] = [w, c];
  return { width, count };
}

function looksNumeric(cell: string): boolean {
  return (
    cell.trim().length <= LOG_LIMITS.cellCharacters &&
    /^\s*[+-]?(?:\d|[.,]\d)[\d.,:'’\u00a0\u202f TZeE+/-]*$/.test(cell)
  );
}

/** Evidence from cells that can be read one way only; a comma can be no decimal mark where it separates the cells. */
function findDecimalMark(sample: readonly (readonly string[])[], delimiter: Delimiter): DecimalMark | undefined {
  let commas = 0;
  let points = 0;
  let unclear = 0;
  for (const record of sample)
    for (const raw of record) {
      const cell = raw.trim().replace(/^[+-]/, '');
      if (cell.length > LOG_LIMITS.cellCharacters) continue;
      if (/^\d{1,3}(?:[.'’ \u00a0\u202f]\d{3})+,\d+$/.test(cell)) commas++;
      else if (/^\d{1,3}(?:[,'’ \u00a0\u202f]\d{3})+\.\d+$/.test(cell)) points++;
      else if (/^\d{1,3},\d{3}$/.test(cell) && !cell.startsWith('0')) unclear++;
      else if (/^\d{1,3}\.\d{3}$/.test(cell) && !cell.startsWith('0')) unclear++;
      else if (/^\d*,\d+$/.test(cell)) commas++;
      else if (/^\d*\.\d+$/.test(cell)) points++;
    }
  if (delimiter === ',' && commas === 0) return '.';
  if (commas > 0 && points === 0) return ',';
  if (points > 0 && commas === 0) return '.';
  if (commas > 0 && points > 0) return commas > points ? ',' : '.';
  return unclear === 0 ? '.' : undefined;
}
