import { CARRIAGE_RETURN, LINE_FEED, newlineOf } from './line-ends.js';
import { LOG_LIMITS } from './limits.js';

/** The bytes of a file from its beginning, piece by piece; where they have to be seen again it is called again. */
export type Pieces = () => AsyncIterable<Uint8Array>;

/** Fewer are not handed on, so that short pieces cost no more than long ones. */
const LEAST_BYTES = 256 * 1024;
const BYTE_ORDER_MARK = [0xef, 0xbb, 0xbf];

/** Thrown where a file can only be read as a whole. */
export class NeedsWhole extends Error {
  /** `why`: as the end of a sentence. */
  constructor(readonly why: string) {
    super(why);
    this.name = 'NeedsWhole';
  }
}

/** The first bytes, as many as are asked for or a piece more; `isAll` where there are no others. */
export async function gather(pieces: Pieces, enough: number): Promise<{ bytes: Uint8Array; isAll: boolean }> {
  const parts: Uint8Array[] = [];
  let length = 0;
  let isAll = true;
  for await (const piece of pieces()) {
    if (length > enough) {
      isAll = false;
      break;
    }
    parts.push(piece);
    length += piece.length;
  }
  return { bytes: joined(parts), isAll };
}

/** The same pieces in UTF-8, without a byte-order mark. `encoding`: 'utf-8' hands them on as they are. */
export async function* inUtf8(pieces: Pieces, encoding: string): AsyncGenerator<Uint8Array> {
  if (encoding === 'utf-8') {
    yield* pieces();
    return;
  }
  const decoder = new TextDecoder(encoding);
  const encoder = new TextEncoder();
  for await (const piece of pieces()) yield encoder.encode(decoder.decode(piece, { stream: true }));
  yield encoder.encode(decoder.decode());
}

/**
 * Pieces cut anew behind the ends of lines, with the byte that ends them; the first is long enough to know a file by.
 * Fails: `NeedsWhole` where the lines end now in one way and now in another, or one is longer than a log's may be.
 */
export async function* wholeLines(
  pieces: AsyncIterable<Uint8Array>,
): AsyncGenerator<{ lines: Uint8Array; newline: number }> {
  let parts: Uint8Array[] = [];
  let length = 0;
  let newline: number | undefined;
  let isFirst = true;
  for await (const piece of pieces) {
    parts.push(piece);
    length += piece.length;
    if (length < LEAST_BYTES) continue;
    const bytes = joined(parts);
    const start = isFirst ? markLength(bytes) : 0;
    newline = newlineIn(bytes, newline);
    const end = newline === undefined ? 0 : bytes.lastIndexOf(newline) + 1;
    if (end > start) {
      yield { lines: bytes.subarray(start, end), newline: newline! };
      isFirst = false;
    } else if (length > LOG_LIMITS.lineCharacters) throw new NeedsWhole('one of its lines is very long');
    const rest = end > start ? bytes.subarray(end) : bytes;
    parts = [rest];
    length = rest.length;
  }
  const bytes = joined(parts);
  const lines = bytes.subarray(isFirst ? markLength(bytes) : 0);
  if (lines.length > 0) yield { lines, newline: newlineIn(lines, newline) ?? newlineOf(lines) };
}

/** Undefined while no line has ended. */
function newlineIn(bytes: Uint8Array, before: number | undefined): number | undefined {
  if (before === LINE_FEED) return before;
  const hasLineFeed = bytes.includes(LINE_FEED);
  if (before !== undefined && hasLineFeed) throw new NeedsWhole('its lines do not all end in the same way');
  if (hasLineFeed) return LINE_FEED;
  return bytes.includes(CARRIAGE_RETURN) ? CARRIAGE_RETURN : before;
}

function markLength(bytes: Uint8Array): number {
  return BYTE_ORDER_MARK.every((byte, k) => bytes[k] === byte) ? BYTE_ORDER_MARK.length : 0;
}

/** One is handed on as it is. */
export function joined(parts: readonly Uint8Array[]): Uint8Array {
  if (parts.length === 1) return parts[0]!;
  const bytes = new Uint8Array(parts.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const part of parts) {
    bytes.set(part, at);
    at += part.length;
  }
  return bytes;
}
