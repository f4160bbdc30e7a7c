import { findCsvDialect, requireShortLines } from './csv-dialect.js';
import { findEncoding, HEAD_CHARACTERS, headOf, refuseBinary, refuseOtherKinds } from './decode-text.js';
import { isUtf8 } from './is-utf8.js';
import { LINE_FEED } from './line-ends.js';
import { LOG_LIMITS } from './limits.js';
import { gather, inUtf8, joined, NeedsWhole, wholeLines, type Pieces } from './log-pieces.js';
import { catchLogProblemIn, LogProblemError, valueOf, type LogOutcome } from './log-problem.js';
import type { LogMapping } from './mapping.js';
import type { RawLog } from './raw-log.js';
import { openTable, QUOTATION_MARK, type OpenTable } from './read-csv.js';
import {
  GAP_SEARCH_CHARACTERS,
  inspectLog,
  isXml,
  readLog,
  requireSign,
  settleMapping,
  type LogInspection,
} from './read-log.js';

export type { Pieces } from './log-pieces.js';

const MIB = 1024 * 1024;
/** Of a file whose length is not known; the columns grow where it is longer. */
const USUAL_BYTES = 16 * MIB;

/**
 * Reads a log as `readLog` does, with the same answer, from pieces of any length: only the columns grow, the file itself is never whole in
 * memory. GPX, a table with quotation marks and one whose lines end in several ways are gathered first, and may be 96 MiB then.
 * `byteCount`: how long it will be about, where that is known. Fails like `readLog`, and as the pieces do.
 */
export function readLogInPieces(
  pieces: Pieces,
  mapping?: LogMapping,
  byteCount = USUAL_BYTES,
): Promise<LogOutcome<RawLog>> {
  return catchLogProblemIn(async () => {
    const { bytes: head, isAll } = await gather(pieces, HEAD_CHARACTERS);
    if (isAll) return valueOf(readLog(head, mapping));
    refuseOtherKinds(head);
    try {
      const encoding = findEncoding(head);
      return (
        (await readTableInPieces(inUtf8(pieces, encoding), mapping, byteCount)) ??
        // What is no UTF-8 after all.
        (await readTableInPieces(inUtf8(pieces, 'windows-1252'), mapping, byteCount))!
      );
    } catch (error) {
      if (!(error instanceof NeedsWhole)) throw error;
      return valueOf(readLog(await wholeOf(pieces, error.why), mapping));
    }
  });
}

/** Undefined where a piece is no UTF-8. */
async function readTableInPieces(
  pieces: AsyncIterable<Uint8Array>,
  chosen: LogMapping | undefined,
  byteCount: number,
): Promise<RawLog | undefined> {
  let table: OpenTable | undefined;
  let mapping: LogMapping | undefined;
  let line = 1;
  for await (const { lines, newline } of wholeLines(pieces)) {
    if (!isUtf8(lines)) return undefined;
    if (lines.includes(QUOTATION_MARK)) throw new NeedsWhole('it has quotation marks');
    if (!table) {
      const head = headOf(lines);
      if (head.trim() === '' || isXml(head)) throw new NeedsWhole(isXml(head) ? 'it is GPX' : 'it begins with blanks');
      refuseBinary(head);
      const dialect = findCsvDialect(head);
      mapping = settleMapping(dialect, chosen);
      table = openTable({ head, length: byteCount }, dialect, mapping);
    }
    line = requireShortLines(lines, line);
    table.takeLines(lines, newline);
  }
  const raw = table!.finish();
  if (!chosen) requireSign(mapping!, raw);
  return raw;
}

/**
 * Recognises a log as `inspectLog` does. Of a long one it looks at the beginning, and passes over the rest, so that what is wrong with the pieces
 * themselves is said here.
 */
export function inspectLogInPieces(pieces: Pieces): Promise<LogOutcome<LogInspection>> {
  return catchLogProblemIn(async () => {
    const parts: Uint8Array[] = [];
    let length = 0;
    let isAll = true;
    for await (const piece of pieces()) {
      if (length > GAP_SEARCH_CHARACTERS) isAll = false;
      else {
        parts.push(piece);
        length += piece.length;
      }
    }
    const bytes = joined(parts);
    if (isAll) return valueOf(inspectLog(bytes));
    if (isXml(headOf(bytes))) return valueOf(inspectLog(await wholeOf(pieces, 'it is GPX')));
    // A line, or a character, that is cut in two is none.
    const end = bytes.lastIndexOf(LINE_FEED) + 1;
    return valueOf(inspectLog(findEncoding(bytes) === 'utf-8' && end > 0 ? bytes.subarray(0, end) : bytes));
  });
}

async function wholeOf(pieces: Pieces, why: string): Promise<Uint8Array> {
  const { bytes, isAll } = await gather(pieces, LOG_LIMITS.fileBytes);
  if (isAll && bytes.length <= LOG_LIMITS.fileBytes) return bytes;
  throw new LogProblemError({
    code: 'too-large',
    message:
      `The file is larger than ${LOG_LIMITS.fileBytes / MIB} MiB and cannot be read piece by piece, because ${why}. ` +
      'Export it as plain CSV, split it, or log more slowly.',
  });
}
