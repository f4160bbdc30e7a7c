import { exampleDetail } from '../../testing/examples.js';
import { factsOf } from '../setup/index.js';
import { rulesOf } from './use-thumb-rules.js';

const facts = factsOf(exampleDetail().revisions[0]!);
const courses = [
  { id: 'c', kind: 'loop' as const },
  { id: 'up', kind: 'one-way' as const },
];
const ridden = (
  way: 'steady' | 'throttle' | null,
  values: readonly number[],
  testKind: 'hill-climb' | 'range' = 'range',
) => ({
  testKind,
  course: { id: 'c', name: 'Home loop' },
  way,
  key: 'netConsumption',
  label: 'Net consumption',
  unit: 'Wh/km' as const,
  revisionNumbers: [1],
  runs: values.map((value, k) => ({
    id: String(k),
    value,
    standardUncertainty: 0.2,
    interval95: [value - 0.4, value + 0.4] as [number, number],
    outing: String(k),
    date: '2026-05-02',
    airTemperatureC: 15,
  })),
});

it('the tester’s own rules go before those of the model', () =>
  expect(rulesOf([{ name: 'bread round', whPerKm: 6 }], facts)).toEqual([{ name: 'bread round', whPerKm: 6 }]));

it('a bike without a kit has none', () => expect(rulesOf([], { ...facts, kit: null })).toEqual([]));

it('rides of a way teach its rule alone; climbs and rides of which nobody wrote down how teach none', () => {
  const before = rulesOf([], facts);
  const after = rulesOf(
    [],
    facts,
    [ridden('steady', [9, 9.4, 8.8, 9.1, 9.3]), ridden(null, [30]), ridden('steady', [40], 'hill-climb')],
    courses,
  );
  const named = (rules: typeof before, words: string) => rules.find(({ name }) => name.startsWith(words));
  expect(named(after, 'moderate pedalling')!.whPerKm).toBeCloseTo(9.1, 1);
  expect(named(after, 'moderate pedalling')!.basis).toBe('5 own rides');
  expect(named(after, 'throttle only')).toEqual(named(before, 'throttle only'));
});
