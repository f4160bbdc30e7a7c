const NOT_ASCII = 0x80808080;
/** First bytes of a character of two, three and four bytes, and the first that begins none. */
const [TWO, THREE, FOUR, NONE] = [0xc2, 0xe0, 0xf0, 0xf5];

/**
 * Whether bytes are well-formed UTF-8, found without making a text of them.
 * Source: The Unicode Standard, table 3-7 (well-formed byte sequences).
 */
export function isUtf8(bytes: Uint8Array): boolean {
  const { length, byteOffset } = bytes;
  const before = (4 - (byteOffset % 4)) % 4;
  const words = length > before ? new Uint32Array(bytes.buffer, byteOffset + before, (length - before) >> 2) : [];
  let k = 0;
  while (k < length) {
    const byte = bytes[k]!;
    if (byte < 0x80) {
      k++;
      // Most of a log is plain: four bytes at a time.
      if (k >= before && (k - before) % 4 === 0) {
        let word = (k - before) / 4;
        while (word < words.length && (words[word]! & NOT_ASCII) === 0) word++;
        k = before + 4 * word;
      }
      continue;
    }
    const more = byte < TWO ? -1 : byte < THREE ? 1 : byte < FOUR ? 2 : byte < NONE ? 3 : -1;
    if (more < 0 || k + more >= length || !isSecond(byte, bytes[k + 1]!)) return false;
    for (let j = 2; j <= more; j++) if (bytes[k + j]! >> 6 !== 2) return false;
    k += more + 1;
  }
  return true;
}

/** Neither written longer than it need be, nor half of a pair, nor beyond the last character. */
function isSecond(first: number, second: number): boolean {
  const least = first === 0xe0 ? 0xa0 : first === 0xf0 ? 0x90 : 0x80;
  const greatest = first === 0xed ? 0x9f : first === 0xf4 ? 0x8f : 0xbf;
  return second >= least && second <= greatest;
}
