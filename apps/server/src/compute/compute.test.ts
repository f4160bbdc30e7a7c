import { gzipSync } from 'node:zlib';
import { LogProblemError } from '@ebrix/core/logs';
import { decodeColumn, encodeColumn, encodingOf } from '../database/columns.js';
import { drawChannel } from './strip.js';
import { unpack } from './unpack.js';

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
