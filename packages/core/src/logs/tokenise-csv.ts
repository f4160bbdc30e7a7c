import Papa from 'papaparse';
import type { CsvDialect } from './csv-dialect.js';
import { LOG_LIMITS } from './limits.js';
import { LogProblemError } from './log-problem.js';

/** Characters handed to the tokeniser at a time, so that a long file's cells are never all in memory as text. */
const BLOCK_CHARACTERS = 256 * 1024;

/** Hands every record after the header to `take`, as text. Fails: `unclosed-quote`. */
export function tokeniseCsv(text: string, dialect: CsvDialect, take: (record: readonly string[]) => void): void {
  const { delimiter } = dialect;
  let skip = dialect.headerRecord + 1;
  const takeAfterHeader = (record: readonly string[]): void => {
    // Blank lines before the header were not counted when it was found.
    if (skip > 0 && !(record.length === 1 && record[0]!.trim() === '')) skip--;
    else if (skip === 0) take(record);
  };
  if (!text.includes('"')) {
    const newline = text.includes('\n') ? '\n' : '\r';
    for (let start = 0; start < text.length;) {
      const limit = start + BLOCK_CHARACTERS;
      let end = limit >= text.length ? text.length : text.lastIndexOf(newline, limit);
      if (end <= start) {
        end = text.indexOf(newline, limit);
        if (end < 0) end = text.length;
      }
      const block = text.slice(start, text[end - 1] === '\r' ? end - 1 : end);
      const ending = newline === '\n' && block.includes('\r\n') ? '\r\n' : newline;
      for (const record of Papa.parse<string[]>(block, { delimiter, newline: ending, fastMode: true }).data)
        takeAfterHeader(record);
      start = end + 1;
    }
    return;
  }
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
          message: `A quotation mark opened in record ${records} is never closed. Close it, or take it out.`,
        });
      takeAfterHeader(data);
    },
  });
}
