import Papa from 'papaparse';
import type { CsvDialect } from './csv-dialect.js';
import { LOG_LIMITS } from './limits.js';
import { LogProblemError } from './log-problem.js';

/** Hands every record after the header to `take`, as text. Fails: `unclosed-quote`. */
export function tokeniseCsv(text: string, dialect: CsvDialect, take: (record: readonly string[]) => void): void {
  const { delimiter } = dialect;
  let skip = dialect.headerRecord + 1;
  const takeAfterHeader = (record: readonly string[]): void => {
    // Blank lines before the header were not counted when it was found.
    if (skip > 0 && !(record.length === 1 && record[0]!.trim() === '')) skip--;
    else if (skip === 0) take(record);
  };
  let records = 0;
  Papa.parse<string[]>(text, {
    delimiter,
    step: ({ data, errors }) => {
      records++;
      const unclosed = errors.find(({ code }) => code === 'MissingQuotes');
      if (unclosed || data.some((cell) => cell.length > LOG_LIMITS.lineCharacters))
        throw new LogProblemError({
          code: 'unclosed-quote',
          line: records,
          message: `A quotation mark opened in record ${records} is never closed. Close it, or remove it.`,
        });
      takeAfterHeader(data);
    },
  });
}
