import fc from 'fast-check';
import { fillLevels, levelGroupProblem, MOST_LEVELS, type LevelGroup } from './level-groups.js';

const group = (from: number, to: number, speedCapKmh: number | null = 20): LevelGroup => ({
  from,
  to,
  speedCapKmh,
  pedalShare: null,
  throttleShare: 0.5,
});
const level = (name: string, speedCapKmh: number | null = null) => ({
  name,
  speedCapKmh,
  pedalShare: null,
  throttleShare: null,
});

it('fills levels that are there and adds those that are not, by number, what has a name of its own behind', () => {
  const levels = fillLevels([level('boost'), level('5', 30), level('2')], group(1, 3));
  expect(levels.map(({ name, speedCapKmh }) => [name, speedCapKmh])).toEqual([
    ['1', 20],
    ['2', 20],
    ['3', 20],
    ['5', 30],
    ['boost', null],
  ]);
});

it('never loses or doubles a level', () =>
  fc.assert(
    fc.property(
      fc.uniqueArray(fc.constantFrom('0', '1', '2', '4', '7', 'eco', 'boost'), { maxLength: 7 }),
      fc.nat(MOST_LEVELS),
      fc.nat(MOST_LEVELS),
      (names, a, b) => {
        const [from, to] = [Math.min(a, b), Math.max(a, b)];
        const after = fillLevels(
          names.map((name) => level(name)),
          group(from, to),
        ).map(({ name }) => name);
        expect(new Set(after).size).toBe(after.length);
        for (const name of names) expect(after).toContain(name);
        for (let k = from; k <= to; k++) expect(after).toContain(String(k));
      },
    ),
  ));

it.each([
  [group(3, 1), 'lower one'],
  [{ ...group(1, 3), to: null }, 'Whole numbers'],
  [group(1.5, 3), 'Whole numbers'],
  [group(1, 13), 'Levels from 0'],
  [group(1, 3, Number.NaN), 'Write numbers'],
])('says what is wrong with a group', (wrong, words) => {
  expect(levelGroupProblem(wrong)).toContain(words);
  expect(levelGroupProblem(group(1, 3))).toBeUndefined();
});
