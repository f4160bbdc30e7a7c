import { seededRandom, standardNormal } from '../numeric/index.js';
import { levelsOfLooks, normalQuantile, spentEarlySparing } from './index.js';

const equal = (looks: number): number[] => Array.from({ length: looks }, (_, k) => (k + 1) / looks);
const boundaries = (fractions: readonly number[]): number[] =>
  levelsOfLooks(
    fractions,
    fractions.map((t) => spentEarlySparing(t, 0.05)),
  ).map((level) => normalQuantile(1 - level / 2));

describe('levels of several looks', () => {
  it('are those of published tables for five looks at equal steps', () => {
    // Jennison & Turnbull (2000), Group Sequential Methods, spending function of the kind of O'Brien and Fleming, two-sided 5 %.
    const published = [4.877, 3.357, 2.68, 2.29, 2.031];
    boundaries(equal(5)).forEach((z, k) => expect(z).toBeCloseTo(published[k]!, 2));
  });

  it('spend what they are given: simulated looks cross in 5 of 100', () => {
    const random = seededRandom(5);
    const fractions = [0.2, 0.35, 0.7, 1];
    const limits = boundaries(fractions);
    let crossed = 0;
    const rounds = 40_000;
    for (let k = 0; k < rounds; k++) {
      let score = 0;
      const isOut = fractions.map((t, i) => {
        score += Math.sqrt(t - (fractions[i - 1] ?? 0)) * standardNormal(random);
        return Math.abs(score) / Math.sqrt(t) > limits[i]!;
      });
      if (isOut.includes(true)) crossed++;
    }
    expect(crossed / rounds).toBeCloseTo(0.05, 2);
  });

  it('are the whole level for a single look, and nothing where nothing is spent', () => {
    expect(levelsOfLooks([1], [0.05])[0]).toBeCloseTo(0.05, 9);
    expect(levelsOfLooks([0.5, 1], [0.05, 0.05])[1]).toBe(0);
  });

  it('refuse looks that go backwards', () =>
    expect(() => levelsOfLooks([0.5, 0.4], [0.01, 0.05])).toThrow(expect.objectContaining({ code: 'not-increasing' })));
});
