import { seededRandom, standardNormal } from '../numeric/index.js';
import { correlationInflation, meanOfSpan } from './uneven-scatter.js';

/** A value that wanders with a memory, 50 times a second. */
function wandering(seed: number, seconds: number, memoryS: number): number[] {
  const random = seededRandom(seed);
  const keep = Math.exp(-0.02 / memoryS);
  let at = standardNormal(random);
  return Array.from({ length: 50 * seconds }, () => {
    at = keep * at + Math.sqrt(1 - keep * keep) * standardNormal(random);
    return at;
  });
}
const every = (values: readonly number[], step: number): number[] => values.filter((_, k) => k % step === 0);

it('the same minutes at 1, 5 and 50 samples a second have the same standard error', () => {
  const errors = [50, 10, 1].map((step) => {
    let sum = 0;
    for (let n = 0; n < 40; n++) sum += meanOfSpan(every(wandering(n, 300, 3), step))!.standardError;
    return sum / 40;
  });
  for (const error of errors) expect(error / errors[0]!).toBeCloseTo(1, 0.5);
  expect(Math.max(...errors) / Math.min(...errors)).toBeLessThan(1.25);
});

it.each([0.5, 3, 8])('the interval of a mean holds the truth of a value with a memory of %d s', (memoryS) => {
  let held = 0;
  const runs = 200;
  for (let n = 0; n < runs; n++) {
    const { mean, standardError } = meanOfSpan(every(wandering(1000 + n, 600, memoryS), 10))!;
    if (Math.abs(mean) < 1.96 * standardError) held++;
  }
  expect(held / runs).toBeGreaterThan(0.88);
  expect(held / runs).toBeLessThan(0.995);
});

it('independent samples are hardly widened, and a constant not at all', () => {
  const random = seededRandom(3);
  const white = (): number[] => Array.from({ length: 2000 }, () => standardNormal(random));
  const factors = Array.from({ length: 50 }, () => correlationInflation(white()));
  expect(factors.reduce((sum, f) => sum + f, 0) / 50).toBeLessThan(1.12);
  expect(correlationInflation([0, 0, 0, 0])).toBe(1);
  expect(correlationInflation([])).toBe(1);
});
