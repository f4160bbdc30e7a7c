import { findCsvDialect, requireShortLines } from './csv-dialect.js';
import { decodeText } from './decode-text.js';
import { catchLogProblem, LogProblemError, type LogOutcome } from './log-problem.js';
import { parseNumber, type DecimalMark } from './parse-number.js';
import { tokeniseCsv } from './tokenise-csv.js';

export interface Table {
  readonly columns: readonly string[];
  /** Cells as text, one list per record. */
  readonly records: readonly (readonly string[])[];
  readonly decimal: DecimalMark;
}

/** More rows than any trial has runs. */
const MAX_RECORDS = 100_000;

/** Reads a table of run results in any dialect of CSV. Fails like `readLog`, and `too-many-samples` over 100 000 records. */
export function readTable(bytes: Uint8Array): LogOutcome<Table> {
  return catchLogProblem(() => {
    const decoded = decodeText(bytes);
    requireShortLines(decoded.bytes());
    const { head, text } = decoded;
    const dialect = findCsvDialect(head);
    const records: (readonly string[])[] = [];
    tokeniseCsv(text, dialect, (record) => {
      if (record.length === 1 && record[0]!.trim() === '') return;
      if (records.length >= MAX_RECORDS)
        throw new LogProblemError({
          code: 'too-many-samples',
          message: `The table has more than ${MAX_RECORDS.toLocaleString('en')} rows. A comparison takes one row per run.`,
        });
      records.push(record.map((cell) => cell.trim()));
    });
    return { columns: dialect.header.map((name) => name.trim()), records, decimal: dialect.decimal ?? '.' };
  });
}

export function tableNumber(cell: string | undefined, decimal: DecimalMark): number {
  return cell === undefined ? NaN : parseNumber(cell, decimal);
}
