import { exampleListItem } from '../../testing/examples.js';
import { nextStepOf } from './next-step.js';

const trial = (change: object = {}) => ({ ...exampleListItem, ...change });
const setups = (...counts: readonly (readonly [runs: number, open: number])[]) =>
  counts.map(([countedRuns, openClearance], k) => ({
    ...exampleListItem.setups[0]!,
    name: `Setup ${k + 1}`,
    countedRuns,
    openClearance,
  }));

describe('what is next on a trial', () => {
  it.each([
    ['setups, while fewer than two are chosen', { setups: setups([3, 0]) }, /setups$/],
    ['safety checks, before a first ride', { setups: setups([3, 0], [0, 2]) }, /clearance$/],
    ['a first outing, where a setup was never ridden', { setups: setups([3, 0], [0, 0]) }, /plan$/],
    ['more runs, while it cannot be told', { setups: setups([3, 4], [3, 0]), verdictKinds: ['cannot-tell'] }, /plan$/],
  ])('is %s', (_what, change, to) => expect(nextStepOf(trial(change) as never)!.to).toMatch(to));

  it('is nothing once it is decided, or put away', () => {
    const decided = { setups: setups([3, 0], [3, 0]), verdictKinds: ['better-and-matters'] };
    expect(nextStepOf(trial(decided) as never)).toBeUndefined();
    expect(nextStepOf(trial({ setups: [], archivedAt: '2026-04-07T08:00:00.000Z' }) as never)).toBeUndefined();
  });
});
