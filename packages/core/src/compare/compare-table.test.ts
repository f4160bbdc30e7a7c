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
    const { comparison, designed } = compareTable(blocked, { setup: 'kit', value: 'Wh', block: 'day' }, options);
    const { lower, upper } = comparison.pairs[0]!.difference;
    const within = designed.blocked!.contrasts[0]!;
    expect(within.difference).toBeCloseTo(comparison.pairs[0]!.difference.estimate, 10);
    expect(within.upper - within.lower).toBeLessThan(0.6 * (upper - lower));
    expect(designed.paired!.pairs).toBe(4);
    expect(designed.paired!.meanDifference).toBeCloseTo(-1.1, 10);
  });

  it('warns when a setup was ridden under other conditions only', () => {
    const apart = table('kit;T;Wh\nA;5;9,9\nA;7;9,7\nA;6;9,8\nB;20;9,1\nB;22;9,0\nB;21;8,9\n');
    const { designed } = compareTable(apart, { setup: 'kit', value: 'Wh', covariate: 'T' }, options);
    expect(designed.notes.join(' ')).toContain('other conditions');
  });

  it('says of a random effect that it is not supported yet', () => {
    expect(
      compareTable(blocked, { setup: 'kit', value: 'Wh', group: 'day' }, options).designed.notes.join(' '),
    ).toContain('not supported yet');
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
