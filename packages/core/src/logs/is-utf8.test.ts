import fc from 'fast-check';
import { isUtf8 } from './is-utf8.js';

const decodes = (bytes: Uint8Array): boolean => {
  try {
    new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    return true;
  } catch {
    return false;
  }
};
/** At any place of a memory, as a part of a file is. */
const moved = (bytes: Uint8Array, by: number): Uint8Array => {
  const room = new Uint8Array(bytes.length + by);
  room.set(bytes, by);
  return room.subarray(by);
};

describe('whether bytes are UTF-8', () => {
  it('is answered as a strict decoder does, of texts, of texts cut or spoilt, and of any bytes', () => {
    const text = fc.string({ unit: 'binary', maxLength: 40 }).map((one) => new TextEncoder().encode(one));
    const spoilt = fc.tuple(text, fc.nat(), fc.nat(255)).map(([bytes, at, byte]) => {
      const copy = bytes.slice();
      if (copy.length > 0) copy[at % copy.length] = byte;
      return copy;
    });
    const cut = fc.tuple(text, fc.nat()).map(([bytes, to]) => bytes.slice(0, to % (bytes.length + 1)));
    const high = fc.uint8Array({ min: 0x7e, maxLength: 6 });
    fc.assert(
      fc.property(fc.oneof(text, spoilt, cut, high, fc.uint8Array({ maxLength: 30 })), fc.nat(5), (bytes, by) => {
        expect(isUtf8(moved(bytes, by))).toBe(decodes(bytes));
      }),
      { numRuns: 2000 },
    );
  });
  it('is answered at every edge of the table of characters', () => {
    const wrong: Uint8Array[] = [];
    for (let first = 0x80; first <= 0xff; first++)
      for (let second = 0x70; second <= 0xff; second++)
        for (const rest of [[], [0x80], [0x80, 0x80], [0xbf, 0x41]]) {
          const bytes = Uint8Array.from([0x41, first, second, ...rest]);
          if (isUtf8(bytes) !== decodes(bytes)) wrong.push(bytes);
        }
    expect(wrong).toEqual([]);
  });
});
