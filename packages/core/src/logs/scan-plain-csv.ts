import type { CsvDialect } from './csv-dialect.js';
import type { GrowingColumn } from './growing-column.js';
import { CARRIAGE_RETURN } from './line-ends.js';
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

/** Up to here a byte is a character of its own. */
const ASCII = 127;
const DECODER = new TextDecoder();

interface Marks {
  readonly newline: number;
  readonly separator: number;
  readonly point: number;
}

interface Lines extends Pick<CsvDialect, 'delimiter'> {
  /** The byte that ends a line; a return before a line feed belongs to it. */
  readonly newline: number;
  /** Records to be passed over: up to the header. */
  readonly before: number;
}

/**
 * Scans lines of a table without quotation marks in one pass over their bytes (UTF-8, without a byte-order mark): cells that are plain
 * decimal numbers are read where they stand and never become text. `sinks` by column, undefined for columns nobody asked for. `endRecord` gets
 * the number of cells of each record after the header; blank lines come with 0 cells and hand over nothing. Gives back how many of the records
 * `before` are still to come.
 */
export function scanPlainCsv(
  bytes: Uint8Array,
  { delimiter, newline, before }: Lines,
  decimal: DecimalMark,
  sinks: readonly (CellSink | undefined)[],
  endRecord: (cells: number) => void,
): number {
  const separator = delimiter.charCodeAt(0);
  // Where both are the same mark it separates.
  const point = decimal === delimiter ? -1 : decimal.charCodeAt(0);
  const marks: Marks = { newline, separator, point };
  const { length } = bytes;
  let skip = before;
  let k = 0;
  // What follows the last line's end is no record.
  while (k < length) {
    const first = bytes[k]!;
    if (skip > 0 || first <= SPACE || first > ASCII) {
      const next = lineEnd(bytes, k, newline);
      const blank = isBlank(bytes, k, next, separator);
      // Blank lines before the header were not counted when it was found.
      if (skip > 0 && !blank) skip--;
      else if (skip === 0 && blank) endRecord(0);
      else if (skip === 0) {
        k = scanRecord(bytes, k, marks, sinks, endRecord);
        continue;
      }
      k = next + 1;
    } else k = scanRecord(bytes, k, marks, sinks, endRecord);
  }
  return skip;
}

/** Hands over the cells of the record that begins there, and gives back where the next one does. */
function scanRecord(
  bytes: Uint8Array,
  start: number,
  { newline, separator, point }: Marks,
  sinks: readonly (CellSink | undefined)[],
  endRecord: (cells: number) => void,
): number {
  const { length } = bytes;
  let at = start;
  let cells = 0;
  for (;;) {
    const sink = sinks[cells++];
    const from = at;
    let byte = at < length ? bytes[at]! : newline;
    if (sink?.numbers) {
      const isNegative = byte === MINUS;
      if (isNegative || byte === PLUS) byte = ++at < length ? bytes[at]! : newline;
      let mantissa = 0;
      let decimals = 0;
      const whole = at;
      while (byte >= ZERO && byte <= NINE) {
        mantissa = mantissa * 10 + (byte - ZERO);
        byte = ++at < length ? bytes[at]! : newline;
      }
      let digits = at - whole;
      if (byte === point) {
        const fraction = at + 1;
        do {
          byte = ++at < length ? bytes[at]! : newline;
          if (byte < ZERO || byte > NINE) break;
          mantissa = mantissa * 10 + (byte - ZERO);
        } while (at < length);
        decimals = at - fraction;
        digits += decimals;
      }
      if (digits > 0 && digits <= MAX_DIGITS && (byte === separator || isEnd(bytes, byte, at, newline))) {
        const size = decimals > 0 ? mantissa / POWERS[decimals]! : mantissa;
        sink.numbers.push(isNegative ? -size : size);
      } else {
        at = cellEnd(bytes, at, separator, newline);
        sink.takeText(textOf(bytes, from, at));
      }
    } else {
      at = cellEnd(bytes, at, separator, newline);
      if (sink) sink.takeText(textOf(bytes, from, at));
    }
    if (at < length && bytes[at] === separator) {
      at++;
      continue;
    }
    endRecord(cells);
    // Over the return before a line feed.
    return at < length && bytes[at] !== newline ? at + 2 : at + 1;
  }
}

function isEnd(bytes: Uint8Array, byte: number, at: number, newline: number): boolean {
  return byte === newline || (byte === CARRIAGE_RETURN && (at + 1 >= bytes.length || bytes[at + 1] === newline));
}

function cellEnd(bytes: Uint8Array, from: number, separator: number, newline: number): number {
  const { length } = bytes;
  let at = from;
  while (at < length && bytes[at] !== separator && !isEnd(bytes, bytes[at]!, at, newline)) at++;
  return at;
}

/** The end of the line that begins at `from`: where its line end stands, or the end of all. */
function lineEnd(bytes: Uint8Array, from: number, newline: number): number {
  const found = bytes.indexOf(newline, from);
  return found < 0 ? bytes.length : found;
}

function isBlank(bytes: Uint8Array, start: number, end: number, separator: number): boolean {
  for (let k = start; k < end; k++) {
    const byte = bytes[k]!;
    if (byte === separator) return false;
    // Only what may be a blank of another script is looked at as the language would.
    if (byte > ASCII) {
      const rest = textOf(bytes, k, end);
      return !rest.includes(String.fromCharCode(separator)) && rest.trim() === '';
    }
    if (byte > SPACE) return false;
  }
  return true;
}

function textOf(bytes: Uint8Array, from: number, to: number): string {
  let text = '';
  for (let k = from; k < to; k++) {
    const byte = bytes[k]!;
    if (byte > ASCII) return DECODER.decode(bytes.subarray(from, to));
    text += String.fromCharCode(byte);
  }
  return text;
}
