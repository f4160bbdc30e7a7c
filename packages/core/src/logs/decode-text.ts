import { isUtf8 } from './is-utf8.js';
import { LogProblemError } from './log-problem.js';

/** First bytes of files that are often dropped by mistake. */
const SIGNATURES: readonly { bytes: readonly number[]; what: string; remedy: string }[] = [
  { bytes: [0x89, 0x50, 0x4e, 0x47], what: 'a picture (PNG)', remedy: 'Export the ride as CSV or GPX.' },
  { bytes: [0xff, 0xd8, 0xff], what: 'a picture (JPEG)', remedy: 'Export the ride as CSV or GPX.' },
  { bytes: [0x47, 0x49, 0x46, 0x38], what: 'a picture (GIF)', remedy: 'Export the ride as CSV or GPX.' },
  { bytes: [0x52, 0x49, 0x46, 0x46], what: 'a picture or sound file', remedy: 'Export the ride as CSV or GPX.' },
  { bytes: [0x25, 0x50, 0x44, 0x46], what: 'a PDF document', remedy: 'Export the ride as CSV or GPX.' },
  {
    bytes: [0x50, 0x4b, 0x03, 0x04],
    what: 'a zip archive or a spreadsheet file',
    remedy: 'Unpack it, or save the sheet as CSV, and drop the file itself.',
  },
  { bytes: [0x37, 0x7a, 0xbc, 0xaf], what: 'a packed archive', remedy: 'Unpack it and drop the file itself.' },
];

/** A text, and the same as bytes in UTF-8 without a byte-order mark. */
export interface DecodedText {
  /** All of it; of a long file only made when it is asked for. */
  readonly text: string;
  /** Its first characters: all of a short one. */
  readonly head: string;
  /** Characters, or bytes where they are in UTF-8. */
  readonly length: number;
  readonly bytes: () => Uint8Array;
}
export function encoded(text: string): DecodedText {
  return {
    text,
    head: text.slice(0, HEAD_CHARACTERS),
    length: text.length,
    bytes: () => new TextEncoder().encode(text),
  };
}
/** Enough to find out of which kind a file is. */
export const HEAD_CHARACTERS = 256 * 1024;
const BYTE_ORDER_MARK = [0xef, 0xbb, 0xbf];

/**
 * Text of a log file, its encoding found: UTF-8 or UTF-16 by byte-order mark, UTF-16 by its zero bytes, else UTF-8 if
 * valid, else Windows Latin-1.
 * Fails: `empty-file`, `not-a-log` (picture, archive, binary).
 */
export function decodeText(bytes: Uint8Array): DecodedText & { readonly encoding: string } {
  if (bytes.length === 0)
    throw new LogProblemError({ code: 'empty-file', message: 'The file is empty. Copy it from the logger again.' });
  refuseOtherKinds(bytes);
  const encoding = findEncoding(bytes);
  const decoded = decode(bytes, encoding);
  const { head, length } = decoded;
  if (head.trim() === '' && decoded.text.trim() === '')
    throw new LogProblemError({
      code: 'empty-file',
      message: 'The file holds nothing but blank space. Copy it from the logger again.',
    });
  refuseBinary(head);
  return {
    encoding,
    head,
    length,
    bytes: decoded.bytes,
    get text() {
      return decoded.text;
    },
  };
}

/** By the first bytes of a file. Fails: `not-a-log`. */
export function refuseOtherKinds(bytes: Uint8Array): void {
  for (const { bytes: signature, what, remedy } of SIGNATURES)
    if (signature.every((byte, k) => bytes[k] === byte))
      throw new LogProblemError({ code: 'not-a-log', message: `This is ${what}, not a log. ${remedy}` });
}

/** By the first characters of a file. Fails: `not-a-log`. */
export function refuseBinary(head: string): void {
  if (hasControlCharacters(head))
    throw new LogProblemError({
      code: 'not-a-log',
      message: 'The file is not text: it holds binary data. Export the ride as CSV or GPX.',
    });
}

/** Of bytes in UTF-8. */
function plain(bytes: Uint8Array): DecodedText {
  let text: string | undefined;
  return {
    get text() {
      return (text ??= new TextDecoder().decode(bytes));
    },
    head: headOf(bytes),
    length: bytes.length,
    bytes: () => bytes,
  };
}

/** The first characters of bytes in UTF-8. */
export function headOf(bytes: Uint8Array): string {
  let end = Math.min(bytes.length, HEAD_CHARACTERS);
  // No character is cut in two.
  while (end < bytes.length && bytes[end]! >> 6 === 2) end--;
  return new TextDecoder().decode(bytes.subarray(0, end));
}

/** By the first bytes of a file: UTF-16, or what is UTF-8 unless it proves to be none. */
export function findEncoding(bytes: Uint8Array): string {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return 'utf-16le';
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return 'utf-16be';
  const sample = bytes.subarray(0, 4096);
  let evenZeros = 0;
  let oddZeros = 0;
  sample.forEach((byte, k) => {
    if (byte === 0) k % 2 === 0 ? evenZeros++ : oddZeros++;
  });
  if (oddZeros > sample.length / 4 && evenZeros < sample.length / 32) return 'utf-16le';
  if (evenZeros > sample.length / 4 && oddZeros < sample.length / 32) return 'utf-16be';
  return 'utf-8';
}

function decode(bytes: Uint8Array, encoding: string): DecodedText {
  if (encoding !== 'utf-8') return encoded(new TextDecoder(encoding).decode(bytes));
  const from = BYTE_ORDER_MARK.every((byte, k) => bytes[k] === byte) ? BYTE_ORDER_MARK.length : 0;
  return isUtf8(bytes) ? plain(bytes.subarray(from)) : encoded(new TextDecoder('windows-1252').decode(bytes));
}

function hasControlCharacters(text: string): boolean {
  const sample = text.slice(0, 65_536);
  let count = 0;
  for (let k = 0; k < sample.length; k++) {
    const code = sample.charCodeAt(k);
    if (code === 0 || code === 0xfffd || (code < 32 && code !== 9 && code !== 10 && code !== 13)) count++;
  }
  return count > sample.length / 1000 + 2;
}
