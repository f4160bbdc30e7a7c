import { seededRandom } from '../numeric/index.js';
import { clippedAt } from './clipping.js';

const wave = (end: number): Float64Array => {
  const random = seededRandom(2);
  return Float64Array.from({ length: 2000 }, (_, k) => Math.min(end, 8 + 6 * Math.sin(k / 20) + 0.2 * random()));
};

it('a sensor at its end meets its highest reading again and again, in runs', () => {
  expect(clippedAt(wave(12))).toBe(12);
  expect(clippedAt(wave(20))).toBeUndefined();
});
it('readings that are missing part no run', () => {
  const holes = wave(12).map((value, k) => (k % 2 === 0 ? value : NaN));
  expect(clippedAt(holes)).toBe(12);
});
it('few signs are enough where more is looked at', () => {
  expect(clippedAt(wave(14.13))).toBeUndefined();
  expect(clippedAt(wave(14.13), { share: 0.003, run: 2 })).toBe(14.13);
});
it('a switch, a coarse scale and a few readings are at no end', () => {
  expect(clippedAt(Float64Array.from({ length: 500 }, (_, k) => k % 7))).toBeUndefined();
  expect(clippedAt(wave(12).subarray(0, 60))).toBeUndefined();
  expect(clippedAt(new Float64Array(500).fill(NaN))).toBeUndefined();
});
