import { seededRandom, standardNormal } from '../numeric/index.js';
import { figureVocabulary, firstImpression } from './index.js';

const words = figureVocabulary('netConsumption', 'Net consumption', 'less');
const ride = (name: string, value: number, standardUncertainty = 0.1) => ({ name, value, standardUncertainty });

describe('one ride each', () => {
  it('names the better one and its share, whichever stands first', () => {
    expect(firstImpression(ride('A', 10), ride('B', 8), 0.04, words).sentence).toContain(
      'B uses 20 % less energy per km than A',
    );
    expect(firstImpression(ride('B', 8), ride('A', 10), 0.04, words).sentence).toContain(
      'B uses 20 % less energy per km than A',
    );
  });
  it('never says that it is the setup', () => {
    const clear = firstImpression(ride('A', 10), ride('B', 5), 0.04, words);
    expect(clear.isBeyondChance).toBe(true);
    expect(clear.sentence).toContain('cannot say whether it was the setup, the day or the rider');
    expect(firstImpression(ride('A', 10), ride('B', 9.6), 0.04, words).sentence).toContain('says nothing yet');
  });
  it('turns over with its sides', () => {
    const there = firstImpression(ride('A', 10, 0.5), ride('B', 8, 0.2), 0.04, words).ratio;
    const back = firstImpression(ride('B', 8, 0.2), ride('A', 10, 0.5), 0.04, words).ratio;
    expect(back.estimate).toBeCloseTo(1 / there.estimate, 12);
    expect(back.lower).toBeCloseTo(1 / there.upper, 12);
  });
  it('holds the truth 95 times in 100 where rides scatter as is usual', () => {
    const random = seededRandom(4);
    let held = 0;
    for (let k = 0; k < 2000; k++) {
      const draw = (mean: number): number =>
        mean * Math.exp(0.04 * standardNormal(random)) + 0.1 * standardNormal(random);
      const { ratio } = firstImpression(ride('A', draw(10)), ride('B', draw(9)), 0.04, words);
      if (ratio.lower <= 0.9 && 0.9 <= ratio.upper) held++;
    }
    expect(held / 2000).toBeGreaterThan(0.93);
    expect(held / 2000).toBeLessThan(0.97);
  });
  it('refuses what has no ratio', () =>
    expect(() => firstImpression(ride('A', 0), ride('B', 1), 0.04, words)).toThrow());
});
