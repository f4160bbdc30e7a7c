import { readTable } from '../logs/index.js';
import { compareTable } from './index.js';

const table = (text: string) => {
  const read = readTable(new TextEncoder().encode(text));
  if (!read.ok) throw new Error(read.problem.message);
  return read.value;
};
const options = {
  smallestDifference: { kind: 'relative', value: 0.05 },
  better: 'less',
  seed: 1,
  resamples: 0,
} as const;

describe('a table of results', () => {
  const blocked = table('kit,day,Wh\nA,1,9.1\nB,1,10.2\nA,2,9.6\nB,2,10.6\nA,3,8.8\nB,3,9.9\nA,4,9.3\nB,4,10.5\n');

  it("is compared within outings where there is a column of them, which takes the outings' scatter away", () => {
    const within = compareTable(blocked, { setup: 'kit', value: 'Wh', block: 'day' }, options);
    const across = compareTable(blocked, { setup: 'kit', value: 'Wh' }, options);
    const width = ({ comparison }: typeof within): number => {
      const { lower, upper } = comparison.pairs[0]!.difference!;
      return upper - lower;
    };
    expect(within.comparison.design).toBe('blocked');
    expect(across.comparison.design).toBe('independent');
    expect(width(within)).toBeLessThan(0.6 * width(across));
    expect(within.designed.paired!.pairs).toBe(4);
    expect(within.designed.paired!.meanDifference).toBeCloseTo(-1.1, 10);
  });

  it('refuses setups that were ridden under other conditions only', () => {
    const apart = table('kit;T;Wh\nA;5;9,9\nA;7;9,7\nA;6;9,8\nB;20;9,1\nB;22;9,0\nB;21;8,9\n');
    const { comparison } = compareTable(apart, { setup: 'kit', value: 'Wh', covariate: 'T' }, options);
    expect(comparison.pairs[0]).toMatchObject({ verdict: 'cannot-tell', refusal: expect.anything() });
    expect(comparison.pairs[0]!.difference).toBeUndefined();
    expect(comparison.pairs[0]!.sentence).toContain('conditions and the setup cannot be told apart');
  });

  it('takes a group as a sample of many', () => {
    const { comparison } = compareTable(blocked, { setup: 'kit', value: 'Wh', group: 'day' }, options);
    expect(comparison.design).toBe('grouped');
    expect(comparison.model!.groupSd).toBeGreaterThan(0.2);
  });

  it('refuses, within outings too, setups that each had a rider of their own', () => {
    const own = table('kit,day,who,Wh\nA,1,r1,9\nB,1,r2,10\nA,2,r1,9.2\nB,2,r2,10.3\nA,3,r1,9.1\nB,3,r2,10.1\n');
    const { comparison } = compareTable(own, { setup: 'kit', value: 'Wh', block: 'day', group: 'who' }, options);
    expect(comparison.pairs[0]).toMatchObject({ verdict: 'cannot-tell', refusal: expect.anything() });
    const shared = table('kit,day,who,Wh\nA,1,r1,9\nB,1,r1,10\nA,2,r2,9.2\nB,2,r2,10.3\nA,3,r1,9.1\nB,3,r1,10.1\n');
    expect(
      compareTable(shared, { setup: 'kit', value: 'Wh', block: 'day', group: 'who' }, options).comparison.design,
    ).toBe('blocked');
  });

  it('says how far a run repeats, over all setups', () => {
    const { repeatability } = compareTable(blocked, { setup: 'kit', value: 'Wh' }, options).comparison;
    // Variances of A (9.1 9.6 8.8 9.3) and B (10.2 10.6 9.9 10.5): 0.1133 and 0.1000.
    expect(repeatability!.withinSd ** 2).toBeCloseTo((0.113333 + 0.1) / 2, 5);
    expect(repeatability!.coefficient).toBeCloseTo(1.959964 * Math.SQRT2 * repeatability!.withinSd, 6);
  });

  it('gives both answers where another analysis is asked for than the runs call for', () => {
    const columns = { setup: 'kit', value: 'Wh', block: 'day' };
    const { comparison } = compareTable(blocked, columns, { ...options, design: 'independent' });
    expect(comparison.design).toBe('independent');
    expect(comparison.called).toMatchObject({ design: 'blocked' });
    expect(comparison.called!.pairs[0]!.difference!.standardError).toBeLessThan(
      comparison.pairs[0]!.difference!.standardError,
    );
  });

  it('refuses an analysis that the table does not carry', () => {
    for (const design of ['blocked', 'nested', 'mixed', 'grouped', 'covariate'] as const)
      expect(() => compareTable(blocked, { setup: 'kit', value: 'Wh' }, { ...options, design })).toThrow(
        expect.objectContaining({ code: 'design-not-possible' }),
      );
  });

  it('takes setups of one outing apart where outings are asked for as the unit', () => {
    const columns = { setup: 'kit', value: 'Wh', block: 'day' };
    const { comparison } = compareTable(blocked, columns, { ...options, design: 'nested' });
    // Each setup's mean over its four days, A 9.2 and B 10.3: not the means of days that mix both.
    expect(comparison.pairs[0]!.difference!.estimate).toBeCloseTo(-1.1, 9);
  });

  it.each([
    ['a column that is not there', 'kit', 'kWh', 'unknown-column'],
    ['a column that holds no setups', 'Wh', 'Wh', 'too-few-runs'],
  ])('refuses %s', (_what, setup, value, code) => {
    expect(() => compareTable(blocked, { setup, value }, options)).toThrow(expect.objectContaining({ code }));
  });

  it('refuses two columns of one name', () => {
    expect(() => compareTable(table('a,x,x\nA,1,2\nB,2,3\n'), { setup: 'a', value: 'x' }, options)).toThrow(
      /2 columns called "x"/,
    );
  });
});
