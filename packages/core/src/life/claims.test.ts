import { assessCycleClaim, warrantyWords, yearOnYear } from './index.js';

describe('claims of life', () => {
  it('a pack that surely ends before is not what was claimed, one that may last cannot be told', () => {
    const ageing = (low: number, high: number | null) => ({
      cyclesInterval95: [low, high] as const,
      verdict: 'fades' as const,
    });
    expect(assessCycleClaim(800, 100, ageing(100, 400)).verdict).toBe('not-met');
    expect(assessCycleClaim(800, 100, ageing(900, 2000)).verdict).toBe('met');
    expect(assessCycleClaim(800, 100, ageing(300, 2000)).verdict).toBe('cannot-tell');
    expect(assessCycleClaim(800, 100, ageing(300, null)).words).toContain('400 or more');
    expect(assessCycleClaim(800, 100, null).words).toContain('needs two battery tests');
  });
  it('faults within a warranty are told with its end', () => {
    const words = warrantyWords(24, '2025-01-01', [{ day: '2025-06-01' }, { day: '2027-06-01' }], '2026-01-01');
    expect(words).toBe('one fault within it so far; it ends on 2027-01-01');
    expect(warrantyWords(24, null, [], '2026-01-01')).toContain('needs the day');
  });
});

describe('this year against the last', () => {
  const of = (year: number, ...values: number[]) => values.map((value, k) => ({ date: `${year}-05-0${k + 1}`, value }));
  it('by the last two years that have two values each', () => {
    const found = yearOnYear([
      ...of(2024, 5, 5.1),
      ...of(2025, 10, 10.1, 9.9),
      ...of(2026, 12, 12.1, 12.2),
      ...of(2027, 30),
    ])!;
    expect(found).toMatchObject({ before: 2025, after: 2026, verdict: 'more' });
    expect(found.ratio).toBeCloseTo(1.21, 2);
    expect(yearOnYear([...of(2025, 10, 10.1, 9.9, 10), ...of(2026, 10.1, 10, 9.95, 10)])!.verdict).toBe('as-before');
    expect(yearOnYear([...of(2025, 8, 12), ...of(2026, 9, 13)])!.verdict).toBe('cannot-tell');
  });
  it('one year alone answers nothing', () => expect(yearOnYear(of(2026, 1, 2, 3))).toBeUndefined());
});
