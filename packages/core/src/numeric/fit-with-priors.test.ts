import { fitWithPriors, neighbourInflation, seededRandom, solveSymmetric, standardNormal } from './index.js';

describe('least squares with priors', () => {
  const random = seededRandom(3);
  const x = Array.from({ length: 60 }, (_, k) => k / 10);
  const y = x.map((at) => 2 + 0.7 * at + 0.2 * standardNormal(random));
  const fit = (priorSd: number, values = y) =>
    fitWithPriors({
      priorMean: [0, 0],
      priorSd: [priorSd, priorSd],
      residualCount: x.length,
      residuals: ([a, b], into) => x.forEach((at, i) => (into[i] = (values[i]! - a! - b! * at) / 0.2)),
    });
  it('is ordinary least squares where the priors say nothing', () => {
    const n = x.length;
    const sum = (of: (i: number) => number): number => x.reduce((total, _, i) => total + of(i), 0);
    const exact = solveSymmetric(
      [n, sum((i) => x[i]!), sum((i) => x[i]!), sum((i) => x[i]! ** 2)],
      [sum((i) => y[i]!), sum((i) => x[i]! * y[i]!)],
    )!;
    const found = fit(1e4).estimate;
    // Huber's weights take a little off the one in twenty beyond two scales.
    expect(found[0]).toBeCloseTo(exact[0]!, 1);
    expect(found[1]).toBeCloseTo(exact[1]!, 1);
  });
  it('stays at the priors where these are sure', () => {
    const { estimate, covariance } = fit(1e-6);
    expect(Math.abs(estimate[0]!)).toBeLessThan(1e-4);
    expect(Math.sqrt(covariance[0]!)).toBeCloseTo(1e-6, 9);
  });
  it('is not carried off by single bad values', () => {
    const bad = y.map((value, i) => (i % 15 === 7 ? value + 40 : value));
    expect(fit(10, bad).estimate[1]).toBeCloseTo(0.7, 0);
    expect(Math.abs(fit(10, bad).estimate[0]! - 2)).toBeLessThan(0.3);
  });
  it('keeps the prior of what no value touches', () => {
    const { estimate, covariance } = fitWithPriors({
      priorMean: [1, 5],
      priorSd: [1, 2],
      residualCount: 4,
      residuals: ([a], into) => into.fill(a! - 3),
    });
    expect(estimate[1]).toBe(5);
    expect(covariance[3]).toBeCloseTo(4, 9);
  });
  it('counts neighbours that move together as fewer', () => {
    expect(neighbourInflation(Array.from({ length: 100 }, (_, k) => (k % 2 ? 1 : -1)))).toBe(1);
    expect(neighbourInflation(Array.from({ length: 100 }, (_, k) => Math.sin(k / 8)))).toBeGreaterThan(5);
  });
});
