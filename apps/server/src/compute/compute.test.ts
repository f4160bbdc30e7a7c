import { Readable } from 'node:stream';
import { gzipSync } from 'node:zlib';
import { LogProblemError } from '@ebrix/core/logs';
import { decodeColumn, encodeColumn, encodingOf } from '../database/columns.js';
import { drawChannel } from './strip.js';
import { unpack, unpackInPieces } from './unpack.js';

const refusal = (work: () => unknown): string => {
  try {
    work();
  } catch (error) {
    if (error instanceof LogProblemError) return error.problem.code;
    throw error;
  }
  return 'none';
};

describe('unpacking', () => {
  const text = Buffer.from('time (s),speed (km/h)\n'.repeat(500));
  it('gives back what was packed, and leaves what was not as it is', () => {
    expect(Buffer.from(unpack(gzipSync(text)))).toEqual(text);
    expect(unpack(text)).toBe(text);
  });
  it('stops at the limit before a bomb is whole in memory', () => {
    const bomb = gzipSync(Buffer.alloc(40 * 1024 * 1024));
    expect(bomb.length).toBeLessThan(60_000);
    expect(refusal(() => unpack(bomb))).toBe('packed-too-tight');
  });
  it('tells a damaged file from a bomb', () =>
    expect(refusal(() => unpack(gzipSync(text).subarray(0, 40)))).toBe('damaged-archive'));
});

describe('unpacking in pieces', () => {
  const text = Buffer.from(Array.from({ length: 300_000 }, (_, k) => `${k},${(k * 7919) % 1000}\n`).join(''));
  const whole = async (bytes: Uint8Array): Promise<Buffer> =>
    Buffer.concat((await Readable.from(unpackInPieces(bytes).pieces()).toArray()) as Buffer[]);
  const problem = async (bytes: Uint8Array): Promise<unknown> =>
    whole(bytes).then(
      () => 'none',
      (error: unknown) => (error instanceof LogProblemError ? error.problem.code : error),
    );
  it('gives back what was packed, as often as it is asked for, and says how long it is', async () => {
    const packed = unpackInPieces(gzipSync(text));
    expect(packed.byteCount).toBe(text.length);
    // Not by the matcher, which looks at each byte in its own way.
    for (let k = 0; k < 2; k++)
      expect(text.equals(Buffer.concat((await Readable.from(packed.pieces()).toArray()) as Buffer[]))).toBe(true);
    expect(text.equals(await whole(text))).toBe(true);
  });
  it('may be left in the middle', async () => {
    for await (const piece of unpackInPieces(gzipSync(text)).pieces()) {
      expect(piece.length).toBeGreaterThan(0);
      break;
    }
  });
  it('stops a bomb at the limit, and tells a damaged file from it, whatever length it states', async () => {
    expect(await problem(gzipSync(Buffer.alloc(40 * 1024 * 1024)))).toBe('packed-too-tight');
    expect(await problem(gzipSync(text).subarray(0, 400_000))).toBe('damaged-archive');
    expect(await problem(gzipSync(text).fill(9, 500, 540))).toBe('damaged-archive');
    expect(await problem(gzipSync(text).fill(0xff, gzipSync(text).length - 4))).toBe('damaged-archive');
    expect(await problem(Buffer.from([0x1f, 0x8b]))).toBe('damaged-archive');
  });
});

describe('columns in the database', () => {
  it('come back as they went in, from the middle of any buffer', () => {
    const values = Float64Array.from([1.5, NaN, -3.25, 1e6]);
    for (const encoding of ['f32', 'f64'] as const) {
      const bytes = encodeColumn(values, encoding);
      const shifted = Buffer.concat([Buffer.from([9, 9, 9]), bytes]).subarray(3);
      expect([...decodeColumn(shifted, encoding)]).toEqual([...values]);
    }
  });
  it('keep positions and running totals in double precision', () => {
    expect([encodingOf('latitude'), encodingOf('distance'), encodingOf('time'), encodingOf('speed')]).toEqual([
      'f64',
      'f64',
      'f64',
      'f32',
    ]);
  });
});

describe('drawing a channel', () => {
  it('gives field units, missing bins as null, and no more bins than asked', () => {
    const low = Float64Array.from({ length: 100 }, (_, k) => (k < 10 ? NaN : 5));
    const channel = drawChannel('speed', low, low, (k) => k, 10);
    expect(channel).toMatchObject({ unit: 'km/h', label: 'speed' });
    expect(channel.low[0]).toBeNull();
    expect(channel.high[5]).toBeCloseTo(18, 9);
    expect(channel.timesS).toHaveLength(10);
  });
});
