import type { CsvDialect } from './csv-dialect.js';
import type { GrowingColumn } from './growing-column.js';
import type { DecimalMark } from './parse-number.js';

/** Takes the cells of one column. A plain number goes straight into `numbers`; anything else is handed over as its text. */
export interface CellSink {
  /** Absent for columns whose cells are no plain numbers. */
  readonly numbers?: GrowingColumn;
  readonly takeText: (cell: string) => void;
}

const ZERO = 48;
const NINE = 57;
const MINUS = 45;
const PLUS = 43;
const SPACE = 32;
/** Up to here a row of digits is an integer that a double holds exactly. */
const MAX_DIGITS = 15;
/** Powers of ten that a double holds exactly: one division of exact numbers is rounded once, as reading the text would be. */
const POWERS = Array.from({ length: MAX_DIGITS + 1 }, (_, k) => 10 ** k);

/**
 * Scans a table without quotation marks in one pass: cells that are plain decimal numbers never become text of their own.
 * `sinks` by column, undefined for columns nobody asked for. `endRecord` gets the number of cells of each record after the
 * header; blank lines come with 0 cells and hand over nothing.
 */
export function scanPlainCsv(
  text: string,
  { delimiter, headerRecord }: Pick<CsvDialect, 'delimiter' | 'headerRecord'>,
  decimal: DecimalMark,
  sinks: readonly (CellSink | undefined)[],
  endRecord: (cells: number) => void,
): void {
  const newline = text.includes('\n') ? '\n' : '\r';
  const separator = delimiter.charCodeAt(0);
  const point = decimal.charCodeAt(0);
  let skip = headerRecord + 1;
  for (let start = 0; start <= text.length;) {
    const found = text.indexOf(newline, start);
    const next = found < 0 ? text.length : found;
    const end = newline === '\n' && next > start && text[next - 1] === '\r' ? next - 1 : next;
    // What follows the last line's end is no record.
    if (start === text.length && found < 0) break;
    const blank = isBlank(text, start, end, separator);
    if (skip > 0) {
      // Blank lines before the header were not counted when it was found.
      if (!blank) skip--;
    } else endRecord(blank ? 0 : scanRecord(text, start, end, separator, point, sinks));
    start = next + 1;
  }
}

function isBlank(text: string, start: number, end: number, separator: number): boolean {
  for (let k = start; k < end; k++) {
    const code = text.charCodeAt(k);
    if (code === separator) return false;
    // Only what looks empty is looked at as the language would.
    if (code > SPACE && text[k]!.trim() !== '') return false;
  }
  return true;
}

function scanRecord(
  text: string,
  start: number,
  end: number,
  separator: number,
  point: number,
  sinks: readonly (CellSink | undefined)[],
): number {
  let cells = 0;
  let from = start;
  for (;;) {
    const sink = sinks[cells++];
    const numbers = sink?.numbers;
    let to: number;
    if (numbers) to = scanNumber(text, from, end, separator, point, numbers, sink);
    else {
      to = cellEnd(text, from, end, separator);
      if (sink) sink.takeText(text.slice(from, to));
    }
    if (to >= end) return cells;
    from = to + 1;
  }
}

function cellEnd(text: string, from: number, end: number, separator: number): number {
  let k = from;
  while (k < end && text.charCodeAt(k) !== separator) k++;
  return k;
}

/** Hands over the cell that begins at `from` and gives back where it ends. */
function scanNumber(
  text: string,
  from: number,
  end: number,
  separator: number,
  point: number,
  numbers: GrowingColumn,
  sink: CellSink,
): number {
  let k = from;
  let mantissa = 0;
  let digits = 0;
  let decimals = -1;
  let code = k < end ? text.charCodeAt(k) : separator;
  const isNegative = code === MINUS;
  if (isNegative || code === PLUS) code = ++k < end ? text.charCodeAt(k) : separator;
  while (code !== separator) {
    if (code >= ZERO && code <= NINE) {
      mantissa = mantissa * 10 + (code - ZERO);
      digits++;
      if (decimals >= 0) decimals++;
    } else if (code === point && decimals < 0) decimals = 0;
    else break;
    code = ++k < end ? text.charCodeAt(k) : separator;
  }
  if (code === separator && digits > 0 && digits <= MAX_DIGITS) {
    const size = decimals > 0 ? mantissa / POWERS[decimals]! : mantissa;
    numbers.push(isNegative ? -size : size);
    return k;
  }
  const to = cellEnd(text, k, end, separator);
  sink.takeText(text.slice(from, to));
  return to;
}
