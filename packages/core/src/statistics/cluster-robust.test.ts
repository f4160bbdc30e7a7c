import { seededRandom, standardNormal } from '../numeric/index.js';
import { brownForsythe, fitClusterRobust, pairedTInterval, summarizeSample, welchTInterval } from './index.js';

function unwrap<T>(outcome: { ok: true; value: T } | { ok: false; reason: string }): T {
  if (!outcome.ok) throw new Error(`refused: ${outcome.reason}`);
  return outcome.value;
}
const A = [9.1, 9.4, 8.8, 9.9, 9.2];
const B = [10, 12, 8, 11.5, 9];

describe('least squares with robust errors', () => {
  it('is Welch’s interval where every run is a cluster of its own', () => {
    const rows = [...A.map(() => [1, 0]), ...B.map(() => [0, 1])];
    const fit = unwrap(
      fitClusterRobust(
        rows,
        [...A, ...B],
        rows.map((_, i) => i),
      ),
    ).combine([1, -1]);
    const welch = unwrap(welchTInterval(summarizeSample(A), summarizeSample(B), 0.95));
    expect(fit.estimate).toBeCloseTo(welch.estimate, 12);
    expect(fit.standardError).toBeCloseTo(welch.standardError, 12);
    // Bell and McCaffrey take the degrees of freedom for equal scatter, where Welch takes them from the scatter seen.
    expect(fit.degreesOfFreedom).toBeCloseTo(8, 9);
  });

  it('is the paired t where each outing holds both setups once', () => {
    const rows = A.flatMap((_, o) => [0, 1].map((s) => [1 - s, s, ...[1, 2, 3, 4].map((k) => (k === o ? 1 : 0))]));
    const fit = unwrap(
      fitClusterRobust(
        rows,
        A.flatMap((value, o) => [value, B[o]!]),
        rows.map((_, i) => i >> 1),
      ),
    ).combine([1, -1, 0, 0, 0, 0]);
    const paired = unwrap(
      pairedTInterval(
        A.map((value, o) => value - B[o]!),
        0.95,
      ),
    );
    expect(fit.estimate).toBeCloseTo(paired.estimate, 10);
    expect(fit.standardError).toBeCloseTo(paired.standardError, 10);
    expect(fit.degreesOfFreedom).toBeCloseTo(4, 8);
  });

  it('has errors that are right on average where clusters scatter alike', () => {
    const random = seededRandom(3);
    const rows = Array.from({ length: 18 }, (_, i) => (i % 3 === 0 ? [1, 0] : [0, 1]));
    const clusters = rows.map((_, i) => Math.floor(i / 3));
    let sum = 0;
    const rounds = 3000;
    for (let k = 0; k < rounds; k++) {
      const y = rows.map(() => standardNormal(random));
      sum += unwrap(fitClusterRobust(rows, y, clusters)).combine([1, -1]).standardError ** 2;
    }
    expect(sum / rounds).toBeCloseTo(1 / 6 + 1 / 12, 2);
  });
});

it('tests equal spread as independent software does', () => {
  // scipy.stats.levene(center="median")
  const test = unwrap(
    brownForsythe([
      [9.1, 9.4, 8.8, 9.9],
      [10, 12, 8, 11.5, 9],
      [7, 7.1, 7.3],
    ]),
  );
  expect(test.f).toBeCloseTo(5.05, 6);
  expect(test.pValue).toBeCloseTo(0.03384084041, 9);
});
