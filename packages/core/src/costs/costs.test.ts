import fc from 'fast-check';
import { seededRandom, standardNormal } from '../numeric/index.js';
import { payback, runningCosts, sumPurchases, type PurchaseLine, type RunningFacts } from './index.js';

const line = (more: Partial<PurchaseLine>): PurchaseLine => ({
  what: 'thing',
  kind: 'part',
  source: 'bought',
  price: { amount: 10, currency: 'EUR' },
  ...more,
});

describe('a purchase list', () => {
  it('adds up by hand: 412.50 + 338.00 + 24.90 + 61.00 ÷ 2 − 20.00, and 900 for the bike', () => {
    const sums = sumPurchases(
      [
        line({ what: 'Corvane R2', price: { amount: 412.5, currency: 'EUR' } }),
        line({ what: 'Fennock 44 V', price: { amount: 338, currency: 'EUR' } }),
        line({ what: 'carriage', kind: 'shipping', price: { amount: 24.9, currency: 'EUR' } }),
        line({ what: 'torque wrench', kind: 'tool', price: { amount: 61, currency: 'EUR' }, sharedBy: 2 }),
        line({ what: 'voucher', kind: 'discount', price: { amount: 20, currency: 'EUR' } }),
        line({ what: 'cog puller', kind: 'tool', source: 'borrowed', price: { amount: 35, currency: 'EUR' } }),
        line({ what: 'round bike', isOfBike: true, price: { amount: 900, currency: 'EUR' } }),
      ],
      [],
      'EUR',
    );
    expect(sums).toMatchObject({ conversion: 785.9, withBike: 1685.9, unpriced: [], unrated: [] });
    expect(sums.byKind).toEqual({ part: 1650.5, shipping: 24.9, tool: 30.5, discount: -20 });
  });
  it('turns other currencies by the rate of a stated day, and names what it has no rate or price for', () => {
    const rates = [{ currency: 'GBP', inHome: 1.17, day: '2026-03-02' }];
    const sums = sumPurchases(
      [
        line({ price: { amount: 100, currency: 'GBP' } }),
        line({ what: 'from afar', price: { amount: 50, currency: 'SEK' } }),
        line({ what: 'a gift', price: null }),
      ],
      rates,
      'EUR',
    );
    expect(sums).toMatchObject({ conversion: 117, unrated: ['SEK'], unpriced: ['a gift'], rates });
  });
  it('is the same to the cent in any order', () =>
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 1, max: 99_999 }), { maxLength: 30 }), (cents) => {
        const lines = cents.map((c) => line({ price: { amount: c / 100, currency: 'EUR' } }));
        const wanted = cents.reduce((sum, c) => sum + c, 0) / 100;
        expect(sumPurchases(lines, [], 'EUR').conversion).toBe(wanted);
        expect(sumPurchases(lines.toReversed(), [], 'EUR').conversion).toBe(wanted);
      }),
    ));
});

const sure = (value: number) => ({ value, standardUncertainty: 0 });
const FACTS: RunningFacts = {
  consumption: sure(8),
  chargerEfficiency: sure(0.8),
  pricePerKWh: 0.32,
  wear: [{ what: 'chain', price: 24, lastsKm: [2400, 2400] }],
  pack: { price: 360, usableWh: sure(480), cycles: [600, 600] },
};

describe('what 100 km cost', () => {
  it('by hand: 1 kWh at 0.32; 24 ÷ 24; 360 for 600 · 60 km', () => {
    const { value, parts, interval95 } = runningCosts(FACTS);
    expect(parts.map(({ what, value: of }) => [what, Number(of.toFixed(9))])).toEqual([
      ['electricity', 0.32],
      ['chain', 1],
      ['pack', 1],
    ]);
    expect(value).toBeCloseTo(2.32, 9);
    expect(interval95[0]).toBeCloseTo(2.32, 9);
  });
  it('holds what is drawn within its stated spans in 93 to 97 of 100', () => {
    const random = seededRandom(12);
    const between = (low: number, high: number): number => low + (high - low) * random();
    const tries = 4000;
    let held = 0;
    for (let k = 0; k < tries; k++) {
      const [wh, efficiency, usable] = [between(5, 11), between(0.78, 0.9), between(350, 600)];
      const facts: RunningFacts = {
        consumption: { value: wh * (1 + 0.05 * standardNormal(random)), standardUncertainty: 0.05 * wh },
        chargerEfficiency: { value: efficiency + 0.02 * standardNormal(random), standardUncertainty: 0.02 },
        pricePerKWh: 0.32,
        wear: [{ what: 'chain', price: 24, lastsKm: [1500, 3000] }],
        pack: {
          price: 360,
          usableWh: { value: usable * (1 + 0.03 * standardNormal(random)), standardUncertainty: 0.03 * usable },
          cycles: [400, 800],
        },
      };
      const truth =
        (wh / efficiency / 10) * 0.32 + 2400 / between(1500, 3000) + (36_000 * wh) / (between(400, 800) * usable);
      const [low, high] = runningCosts(facts).interval95;
      if (low <= truth && truth <= high) held++;
    }
    expect(held / tries).toBeGreaterThan(0.93);
    expect(held / tries).toBeLessThan(0.985);
  });
  it('counts no pack where none is to be counted, and twice the consumption as twice the electricity', () => {
    const bare = { ...FACTS, pack: null, wear: [] };
    expect(runningCosts(bare).value).toBeCloseTo(0.32, 9);
    expect(runningCosts({ ...bare, consumption: sure(16) }).value).toBeCloseTo(0.64, 9);
  });
});

describe('the kilometre from which it has paid', () => {
  const way = (name: string, upFront: number, value: number, standardUncertainty = 0) => ({
    name,
    upFront,
    perHundredKm: { value, standardUncertainty },
  });
  it('by hand: 800 more, 10 less for 100 km, is 8 000 km', () => {
    const found = payback(way('conversion', 800, 2), way('ready-made', 0, 12));
    expect(found).toEqual({ kind: 'after', km: 8000, interval95: [8000, 8000] });
  });
  it('is a span where the running costs are, open above where they may be alike', () => {
    const found = payback(way('a', 800, 2, 1), way('b', 0, 12, 1));
    const doubt = 1.96 * Math.SQRT2;
    expect(found).toMatchObject({
      kind: 'after',
      km: 8000,
      interval95: [expect.closeTo(80_000 / (10 + doubt), 6), expect.closeTo(80_000 / (10 - doubt), 6)],
    });
    expect(payback(way('a', 800, 2, 3), way('b', 0, 8, 3))).toMatchObject({
      kind: 'after',
      interval95: [expect.any(Number), Infinity],
    });
  });
  it('is at once, never, or cannot be told', () => {
    expect(payback(way('a', 500, 2), way('b', 900, 3)).kind).toBe('at-once');
    expect(payback(way('a', 500, 3), way('b', 900, 2))).toEqual({
      kind: 'until',
      km: 40_000,
      interval95: [40_000, 40_000],
    });
    expect(payback(way('a', 500, 2.1, 1), way('b', 900, 2, 1)).kind).toBe('at-once');
    expect(payback(way('a', 900, 3), way('b', 500, 2)).kind).toBe('never');
    expect(payback(way('a', 500, 3), way('b', 500, 2)).kind).toBe('never');
    expect(payback(way('a', 900, 2.1, 1), way('b', 500, 2, 1)).kind).toBe('cannot-tell');
    expect(payback(way('a', 900, 1.9, 1), way('b', 500, 2, 1)).kind).toBe('cannot-tell');
  });
});
