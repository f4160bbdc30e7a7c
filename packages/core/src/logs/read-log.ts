import { channelDefinition, type ChannelName } from './channels.js';
import { dischargeSign } from './current-sign.js';
import { findCsvDialect, requireShortLines, type CsvDialect } from './csv-dialect.js';
import { decodeText, encoded, type DecodedText } from './decode-text.js';
import type { Gap } from './gap.js';
import { LOG_LIMITS } from './limits.js';
import { catchLogProblem, LogProblemError, type LogOutcome, type MappingQuestion } from './log-problem.js';
import { headerSignature, type ColumnMapping, type LogMapping } from './mapping.js';
import type { RawLog } from './raw-log.js';
import { readCsv } from './read-csv.js';
import { readGpx } from './read-gpx.js';
import { recogniseColumns } from './recognise-columns.js';

/** What a file holds, before it is read in full: for the page that assigns it. */
export interface LogInspection {
  readonly format: 'csv' | 'gpx';
  readonly encoding: string;
  /** CSV only. */
  readonly delimiter?: string;
  readonly mapping: LogMapping;
  readonly questions: readonly MappingQuestion[];
  readonly preview: readonly (readonly string[])[];
  /** When it begins by its own clock, s of the epoch; absent where it has none or where that has to be asked. */
  readonly startEpochS?: number;
  /** Where its clock stands for ten minutes or more, or is set back: there may be another ride behind. s of the log. */
  readonly longGaps: readonly Gap[];
  /** Key of the logger profile for this header. */
  readonly signature?: string;
}

const PREVIEW_RECORDS = 6;

/** Recognises a log file. Bytes as they came, unpacked; at most 96 MiB (`inspectLogInPieces`: of any length). */
export function inspectLog(bytes: Uint8Array): LogOutcome<LogInspection> {
  return catchLogProblem(() => {
    const decoded = open(bytes);
    const { head, encoding } = decoded;
    if (isXml(head)) {
      const log = readGpx(decoded.text);
      const columns = Object.keys(log.channels).map((name) => ({
        header: name,
        channel: name as keyof typeof log.channels,
      }));
      return {
        format: 'gpx',
        encoding,
        mapping: { columns },
        questions: [],
        preview: [],
        longGaps: longGapsIn(log.hasClock ? log.timeS : new Float64Array()),
        ...(log.startEpochS !== undefined && { startEpochS: log.startEpochS }),
      };
    }
    const dialect = dialectOf(decoded);
    const { mapping, questions: ofColumns } = recogniseColumns(dialect);
    const read = readForInspection(decoded, dialect);
    const questions = [...ofColumns, ...signQuestion(mapping, read)];
    return {
      format: 'csv',
      encoding,
      delimiter: dialect.delimiter,
      mapping,
      questions,
      preview: dialect.sample.slice(0, PREVIEW_RECORDS).map((record) => record.map((cell) => cell.slice(0, 80))),
      signature: headerSignature(dialect.header),
      ...startOf(head),
      longGaps: read ? longGapsIn(read.timeS) : [],
    };
  });
}

/** Beyond this a file is not read twice for its gaps alone. */
export const GAP_SEARCH_CHARACTERS = 16_000_000;
const LONG_GAP_S = 600;
const SET_BACK_S = 60;

/** Times, and what tells the sign of the current; undefined where the time cannot be read yet. */
function readForInspection(decoded: DecodedText, dialect: CsvDialect): RawLog | undefined {
  if (decoded.length > GAP_SEARCH_CHARACTERS) return undefined;
  const outcome = catchLogProblem(() => {
    // What is still to be asked of other columns does not matter here: one of them is read along, in any unit.
    const { mapping } = recogniseColumns(dialect);
    const isData = (channel: ColumnMapping['channel']): channel is ChannelName =>
      channel !== null && channel !== 'time' && channel !== 'date';
    const first = mapping.columns.findIndex(({ channel }) => isData(channel));
    const columns = mapping.columns.map((column, k) => {
      const { channel, unit } = column;
      if (!isData(channel)) return column;
      if (SIGNED.has(channel) && unit !== undefined) return column;
      return k === first ? { ...column, unit: channelDefinition(channel).fieldUnit } : { ...column, channel: null };
    });
    return readCsv(decoded, dialect, { ...mapping, columns });
  });
  return outcome.ok ? outcome.value : undefined;
}
const SIGNED: ReadonlySet<ChannelName> = new Set(['voltage', 'current', 'power']);

/** Asked where discharge is below zero, as far as it can be told, and the voltage does not say whether it is. */
function signQuestion({ columns }: LogMapping, read: RawLog | undefined): MappingQuestion[] {
  if (!read || dischargeSign(read.timeS, read.channels) !== 'unclear') return [];
  const index = columns.findIndex(({ channel }) => channel === (read.channels.current ? 'current' : 'power'));
  return [
    {
      kind: 'sign',
      columns: [index],
      text: `"${columns[index]!.header}" is below zero nearly throughout. Does discharge count as positive or as negative in it?`,
      choices: ['1', '-1'],
      blocking: true,
    },
  ];
}

function longGapsIn(timeS: Float64Array): Gap[] {
  const gaps: Gap[] = [];
  const startS = timeS.find((t) => !Number.isNaN(t)) ?? 0;
  let last = NaN;
  for (const t of timeS) {
    if (Number.isNaN(t)) continue;
    if (t - last > LONG_GAP_S || t - last < -SET_BACK_S) gaps.push({ startS: last - startS, endS: t - startS });
    last = t;
  }
  return gaps;
}

/** Enough lines to see a clock in. */
const HEAD_CHARACTERS = 20_000;

/** From the first lines alone: a long file is not read twice. */
function startOf(text: string): { startEpochS?: number } {
  const head = text.slice(0, HEAD_CHARACTERS);
  const lines = head.length < text.length ? head.slice(0, head.lastIndexOf('\n')) : head;
  const outcome = catchLogProblem(() => {
    const dialect = findCsvDialect(lines);
    return readCsv(encoded(lines), dialect, resolveMapping(dialect));
  });
  return outcome.ok && outcome.value.startEpochS !== undefined ? { startEpochS: outcome.value.startEpochS } : {};
}

/**
 * Reads a log file of any supported dialect into SI columns.
 * With a mapping, that one is used and nothing is asked; without one, a file that needs asking is refused as `mapping-needed`.
 */
export function readLog(bytes: Uint8Array, mapping?: LogMapping): LogOutcome<RawLog> {
  return catchLogProblem(() => {
    const decoded = open(bytes);
    if (isXml(decoded.head)) return readGpx(decoded.text);
    const dialect = dialectOf(decoded);
    const settled = settleMapping(dialect, mapping);
    const raw = readCsv(decoded, dialect, settled);
    if (!mapping) requireSign(settled, raw);
    return raw;
  });
}

/** As it was chosen, or as the columns are recognised. Fails: `mapping-needed`, `mapping-mismatch`. */
export function settleMapping(dialect: CsvDialect, chosen: LogMapping | undefined): LogMapping {
  return chosen ? checkMapping(chosen, dialect) : resolveMapping(dialect);
}

/** Fails: `mapping-needed` where the log does not tell which way its current counts. */
export function requireSign(mapping: LogMapping, raw: RawLog): void {
  const questions = signQuestion(mapping, raw);
  if (questions.length > 0) throw needsMapping(questions);
}

function dialectOf({ bytes, head }: DecodedText): CsvDialect {
  requireShortLines(bytes());
  return findCsvDialect(head);
}

function open(bytes: Uint8Array): ReturnType<typeof decodeText> {
  if (bytes.length > LOG_LIMITS.fileBytes)
    throw new LogProblemError({
      code: 'too-large',
      message: `The file is larger than ${LOG_LIMITS.fileBytes / 1024 / 1024} MiB. Pack it with gzip, split it, or log more slowly.`,
    });
  return decodeText(bytes);
}

export function isXml(text: string): boolean {
  return /^\s*</.test(text.slice(0, 1000));
}

function resolveMapping(dialect: CsvDialect): LogMapping {
  const { mapping, questions } = recogniseColumns(dialect);
  const blocking = questions.filter((question) => question.blocking);
  if (blocking.length > 0) throw needsMapping(blocking);
  // Doubtful columns that no figure needs are left out rather than guessed.
  const doubtful = new Set(questions.flatMap(({ columns }) => columns));
  const columns = mapping.columns.map((column, k) => (doubtful.has(k) ? { ...column, channel: null } : column));
  return { ...mapping, columns };
}

function needsMapping(questions: readonly MappingQuestion[]): LogProblemError {
  return new LogProblemError({
    code: 'mapping-needed',
    message: `Something in the table must be settled first: ${questions.map(({ text }) => text).join(' ')}`,
    questions,
  });
}

function checkMapping(mapping: LogMapping, dialect: CsvDialect): LogMapping {
  const same =
    mapping.columns.length === dialect.header.length &&
    mapping.columns.every(({ header }, k) => header.trim() === dialect.header[k]!.trim());
  if (!same)
    throw new LogProblemError({
      code: 'mapping-mismatch',
      message: 'The columns of this file are not those of the chosen logger profile. Choose how to read them again.',
    });
  const used = mapping.columns.map(({ channel }) => channel).filter((channel) => channel !== null);
  const twice = used.find((channel, k) => used.indexOf(channel) !== k);
  if (twice)
    throw new LogProblemError({
      code: 'mapping-needed',
      message: `Two columns are set to ${twice}. Choose the one that counts and leave the other out.`,
    });
  return mapping;
}
