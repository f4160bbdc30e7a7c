import type { ComparisonInput } from '@ebrix/core/compare';
import type { PagePool } from '../compute/compute-pool.js';
import { ComparisonMemory } from './comparison-memory.js';
import type { Compared } from './tell-verdict.js';

const input = (seed: number): ComparisonInput => ({ seed }) as ComparisonInput;
/** Answers each input with its own seed, and counts what it was asked. */
function countingPool() {
  const asked: number[] = [];
  const run = (_name: string, inputs: readonly ComparisonInput[]): Promise<Compared[]> => {
    asked.push(...inputs.map(({ seed }) => seed));
    return Promise.resolve(inputs.map(({ seed }) => ({ ok: false, message: String(seed) })));
  };
  return { asked, memory: new ComparisonMemory({ run } as unknown as PagePool) };
}
const seeds = (count: number): ComparisonInput[] => Array.from({ length: count }, (_, k) => input(k));

describe('comparisons of a list', () => {
  it('are worked out once, each in its place, also where two trials ask the same', async () => {
    const { asked, memory } = countingPool();
    const list = [...seeds(20), input(3)];
    const answers = await memory.compareAll(list);
    expect(answers).toEqual(list.map(({ seed }) => ({ ok: false, message: String(seed) })));
    expect(asked).toHaveLength(20);
    await memory.compareAll(list);
    expect(asked).toHaveLength(20);
  });
  it('are worked out again when anything of their input changes', async () => {
    const { asked, memory } = countingPool();
    await memory.compareAll([input(1)]);
    await memory.compareAll([{ ...input(1), resamples: 5 }]);
    expect(asked).toEqual([1, 1]);
  });
  it('are forgotten, the oldest first, before they fill the memory', async () => {
    const { asked, memory } = countingPool();
    await memory.compareAll(seeds(3500));
    asked.length = 0;
    await memory.compareAll([input(3499), input(0)]);
    expect(asked).toEqual([0]);
  });
});
