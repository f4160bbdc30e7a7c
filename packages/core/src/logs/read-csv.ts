import { UNITS, type UnitDefinition, type UnitName } from '../units/index.js';
import { channelDefinition, type ChannelColumns, type ChannelName } from './channels.js';
import type { CsvDialect } from './csv-dialect.js';
import { GrowingColumn } from './growing-column.js';
import { LOG_LIMITS } from './limits.js';
import { newlineOf } from './line-ends.js';
import { LogProblemError } from './log-problem.js';
import type { DecodedText } from './decode-text.js';
import type { ColumnMapping, LogMapping } from './mapping.js';
import type { TimeFormat } from './parse-time.js';
import { parseNumber, type DecimalMark } from './parse-number.js';
import { parseClock, parseDigitsDate, parseHoursMinutes, parseIso, findDateOrder } from './parse-time.js';
import { spreadMinutes } from './spread-minutes.js';
import type { RawLog, UnreadableCells } from './raw-log.js';
import { scanPlainCsv, type CellSink } from './scan-plain-csv.js';
import { tokeniseCsv } from './tokenise-csv.js';

/** A drop of the clock by more than half a day is midnight, not an error of the logger. */
const HALF_DAY_S = 43_200;
const DAY_S = 86_400;
export const QUOTATION_MARK = 34;

const DATED: ReadonlySet<TimeFormat> = new Set(['iso', 'dmy', 'mdy', 'epoch-s', 'epoch-ms']);

/** The day a log begins, where a column of its own tells it beside a time of day. */
function midnightOf(dialect: CsvDialect, { columns }: LogMapping, format: TimeFormat | undefined): number | undefined {
  const index = columns.findIndex(({ channel }) => channel === 'date');
  if (index < 0 || (format !== 'clock' && format !== 'clock-hm')) return undefined;
  const cells = dialect.sample.map((record) => record[index] ?? '');
  const first = cells.find((cell) => cell.trim() !== '') ?? '';
  const order = findDateOrder(cells);
  const epochS = Number.isNaN(parseIso(first)) && order ? parseDigitsDate(first, order) : parseIso(first);
  return Number.isNaN(epochS) ? undefined : epochS;
}

/** `(value + offset) · factor ÷ divisor`: thousandths are divided, so that they are rounded once. */
interface Scale {
  readonly offset: number;
  readonly factor: number;
  readonly divisor: number;
}

interface ColumnReader {
  readonly channel: ChannelName | 'time';
  readonly index: number;
  readonly column: GrowingColumn;
  /** The number in a cell; where there is a `scale`, as it stands there. */
  readonly parse: (cell: string) => number;
  /** For columns of plain numbers: what such a number means in SI, applied to the whole column at the end. */
  readonly scale?: Scale;
  unreadable: number;
  firstLine: number;
}

/** A table that is taken in piece by piece, from its first line on, each piece cut behind the end of a line. */
export interface OpenTable {
  /** Lines without quotation marks, in UTF-8. `newline`: the byte that ends them. */
  readonly takeLines: (lines: Uint8Array, newline: number) => void;
  /** The whole table as a text, with quotation marks or without. */
  readonly takeText: (text: string) => void;
  /** What was taken, in SI. Fails: `no-samples`, `no-time`. */
  readonly finish: () => RawLog;
}

/**
 * Reads the table under a settled mapping.
 * Fails: `no-time`, `no-known-column`, `mapping-needed` (unit missing), `too-many-samples`, `unclosed-quote`, `no-samples`.
 */
export function readCsv(decoded: DecodedText, dialect: CsvDialect, mapping: LogMapping): RawLog {
  const table = openTable(decoded, dialect, mapping);
  const bytes = decoded.bytes();
  if (bytes.includes(QUOTATION_MARK)) table.takeText(decoded.text);
  else table.takeLines(bytes, newlineOf(bytes));
  return table.finish();
}

/** `size`: its first characters, and how many there are about. Fails as `readCsv` does. */
export function openTable(
  size: Pick<DecodedText, 'head' | 'length'>,
  dialect: CsvDialect,
  mapping: LogMapping,
): OpenTable {
  const decimal = mapping.decimal ?? dialect.decimal ?? '.';
  const expected = expectedRecords(size, dialect);
  const readers = mapping.columns.flatMap((column, index) => makeReader(column, index, decimal, expected));
  const time = readers.find((reader) => reader.channel === 'time');
  const timeFormat = mapping.columns[time?.index ?? -1]?.timeFormat;
  if (!time)
    throw new LogProblemError({
      code: 'no-time',
      message: 'No column with the time was found. Name one "time (s)", or choose it in the list of columns.',
    });
  if (readers.length < 2)
    throw new LogProblemError({
      code: 'no-known-column',
      message: 'None of the columns is known beside the time. Name them by what they hold, for example "speed (km/h)".',
    });

  const width = dialect.header.length;
  let line = dialect.headerRecord + 1;
  let ragged = 0;
  /** Records up to the header that are still to come. */
  let before = dialect.headerRecord + 1;
  const takeCell = (reader: ColumnReader, cell: string): void => {
    if (cell === '') {
      reader.column.push(NaN);
      return;
    }
    const value = reader.parse(cell);
    if (value !== value && cell.trim() !== '' && reader.unreadable++ === 0) reader.firstLine = line + 1;
    reader.column.push(value);
  };
  /** After the cells of a record were taken; what it was too short for is missing. */
  const endRecord = (cells: number): void => {
    line++;
    if (cells === 0) return;
    if (cells !== width) ragged++;
    for (const reader of readers) if (reader.index >= cells) reader.column.push(NaN);
    if (time.column.length > LOG_LIMITS.samples)
      throw new LogProblemError({
        code: 'too-many-samples',
        line,
        message: `The log has more than ${LOG_LIMITS.samples.toLocaleString('en')} samples. Split it, or log more slowly.`,
      });
  };
  const sinks: (CellSink | undefined)[] = [];
  for (const reader of readers) {
    const { column, scale } = reader;
    sinks[reader.index] = {
      ...(scale && { numbers: column }),
      takeText: (cell) => takeCell(reader, cell),
    };
  }
  return {
    takeLines: (lines, newline) => {
      before = scanPlainCsv(lines, { delimiter: dialect.delimiter, newline, before }, decimal, sinks, endRecord);
    },
    takeText: (text) =>
      tokeniseCsv(text, dialect, (record) => {
        const isBlank = record.length === 1 && record[0]!.trim() === '';
        if (!isBlank)
          for (const reader of readers) if (reader.index < record.length) takeCell(reader, record[reader.index]!);
        endRecord(isBlank ? 0 : record.length);
      }),
    finish: () => {
      if (time.column.length === 0)
        throw new LogProblemError({
          code: 'no-samples',
          line: line + 1,
          message: 'The table has column names but no values under them. Copy the file from the logger again.',
        });
      const { timeS, startEpochS } = toClock(valuesOf(time), timeFormat, midnightOf(dialect, mapping, timeFormat));
      const channels: ChannelColumns = {};
      for (const reader of readers) if (reader.channel !== 'time') channels[reader.channel] = valuesOf(reader);
      return {
        format: 'csv',
        timeS,
        hasClock: true,
        ...(startEpochS !== undefined && { startEpochS }),
        channels,
        unreadable: readers.flatMap(({ channel, unreadable, firstLine }): UnreadableCells[] =>
          unreadable > 0 ? [{ channel, count: unreadable, firstLine }] : [],
        ),
        raggedRecords: ragged,
        signsSaid: mapping.columns.flatMap(({ channel, sign }) =>
          sign !== undefined && channel !== null ? [channel] : [],
        ),
        ignoredColumns: mapping.columns.filter(({ channel }) => channel === null).map(({ header }) => header),
      };
    },
  };
}

function valuesOf({ column, scale }: ColumnReader): Float64Array {
  const values = column.toArray();
  if (scale && (scale.offset !== 0 || scale.factor !== 1 || scale.divisor !== 1)) {
    const { offset, factor, divisor } = scale;
    for (let k = 0; k < values.length; k++) values[k] = ((values[k]! + offset) * factor) / divisor;
  }
  return values;
}

/** About how many there are, by the length of the first: a little too many, so that no column has to grow. */
function expectedRecords(
  { head, length }: Pick<DecodedText, 'head' | 'length'>,
  { headerRecord, sample }: CsvDialect,
): number {
  const lines = head.split('\n', 1 + headerRecord + sample.length);
  const characters = lines.slice(1 + headerRecord).reduce((sum, line) => sum + line.length + 1, 0);
  if (characters === 0) return FEWEST_RECORDS;
  const records = (1.1 * length * (lines.length - 1 - headerRecord)) / characters;
  return Math.max(FEWEST_RECORDS, Math.min(LOG_LIMITS.samples, Math.ceil(records)));
}
const FEWEST_RECORDS = 64;

function makeReader(column: ColumnMapping, index: number, decimal: DecimalMark, expected: number): ColumnReader[] {
  const { channel } = column;
  if (channel === null || channel === 'date') return [];
  const base = { index, column: new GrowingColumn(expected), unreadable: 0, firstLine: 0 };
  if (channel === 'time') {
    const scale = timeScale(column);
    if (scale) return [{ ...base, channel, parse: (cell) => parseNumber(cell, decimal), scale }];
    return [{ ...base, channel, parse: timeParser(column.timeFormat) }];
  }
  const { unit } = column;
  if (!unit) {
    // A doubt about a channel that no figure needs is no reason to refuse the file.
    if (!channelDefinition(channel).essential) return [];
    throw new LogProblemError({ code: 'mapping-needed', message: `Say in which unit "${column.header}" is.` });
  }
  if (channel === 'brake') return [{ ...base, channel, parse: (cell) => parseSwitch(cell, decimal) }];
  const scale = scaleOf(unit, column.sign);
  return [{ ...base, channel, parse: (cell) => parseNumber(cell, decimal), scale }];
}

function parseSwitch(cell: string, decimal: DecimalMark): number {
  const word = cell.trim().toLowerCase();
  if (['true', 'on', 'yes'].includes(word)) return 1;
  if (['false', 'off', 'no'].includes(word)) return 0;
  return parseNumber(cell, decimal);
}

/**
 * What a plain number in the time column means in seconds; undefined for formats that are not numbers.
 * Fails: `mapping-needed` when the unit is not settled.
 */
function timeScale({ timeFormat, unit, header }: ColumnMapping): Scale | undefined {
  switch (timeFormat) {
    case 'clock':
    case 'clock-hm':
    case 'iso':
    case 'dmy':
    case 'mdy':
      return undefined;
    case 'epoch-s':
      return { offset: 0, factor: 1, divisor: 1 };
    case 'epoch-ms':
      return { offset: 0, factor: 1, divisor: 1000 };
    case 'number':
    case undefined:
      if (!unit)
        throw new LogProblemError({ code: 'mapping-needed', message: `Say in which unit the time in "${header}" is.` });
      return scaleOf(unit);
  }
}

function scaleOf(unit: UnitName, sign = 1): Scale {
  const { factor, offset = 0 }: UnitDefinition = UNITS[unit];
  return { offset, factor: factor * sign, divisor: 1 };
}

function timeParser(format: TimeFormat | undefined): (cell: string) => number {
  switch (format) {
    case 'clock':
      return parseClock;
    case 'clock-hm':
      return parseHoursMinutes;
    case 'dmy':
    case 'mdy':
      return (cell) => parseDigitsDate(cell, format);
    default:
      return parseIso;
  }
}

/** Seconds from the first readable time, midnight unwound, with the date of the start where the format tells it. */
function toClock(
  raw: Float64Array,
  format: TimeFormat | undefined,
  midnightEpochS: number | undefined,
): { timeS: Float64Array; startEpochS?: number } {
  if (format === 'clock' || format === 'clock-hm') {
    let days = 0;
    let previous = NaN;
    for (let k = 0; k < raw.length; k++) {
      const value = raw[k]!;
      if (Number.isNaN(value)) continue;
      if (previous - value > HALF_DAY_S) days++;
      previous = value;
      raw[k] = value + days * DAY_S;
    }
  }
  if (format === 'clock-hm') spreadMinutes(raw);
  const first = raw.find((value) => !Number.isNaN(value));
  if (first === undefined)
    throw new LogProblemError({
      code: 'no-time',
      message: 'No value in the time column can be read as a time. Check which column holds the time, and its unit.',
    });
  const timeS = raw.map((value) => value - first);
  if (format !== undefined && DATED.has(format)) return { timeS, startEpochS: first };
  return midnightEpochS === undefined ? { timeS } : { timeS, startEpochS: midnightEpochS + first };
}
