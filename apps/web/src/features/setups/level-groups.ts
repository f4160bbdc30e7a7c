import type { SetupSettings } from '@ebrix/contract';

type Levels = SetupSettings['levels'];
/** Neighbouring levels that are set alike; a number that cannot be read is NaN. */
export interface LevelGroup extends Omit<Levels[number], 'name'> {
  readonly from: number | null;
  readonly to: number | null;
}
export const MOST_LEVELS = 12;

/** Why a group cannot be filled in; undefined when it can. */
export function levelGroupProblem({ from, to, ...values }: LevelGroup): string | undefined {
  if (Object.values(values).some((value) => Number.isNaN(value))) return 'Write numbers.';
  if (from === null || to === null || !Number.isInteger(from) || !Number.isInteger(to))
    return 'Whole numbers for the first and the last level.';
  if (from < 0 || to > MOST_LEVELS) return `Levels from 0 to ${MOST_LEVELS}.`;
  return from > to ? 'The first level is the lower one.' : undefined;
}

/** Levels with those of a group set alike: the ones there are changed in place, missing ones put where their number belongs. */
export function fillLevels(levels: Levels, { from, to, ...values }: LevelGroup): Levels {
  const names = Array.from({ length: to! - from! + 1 }, (_, k) => String(from! + k));
  const kept = levels.map((level) => (names.includes(level.name) ? { ...level, ...values } : level));
  const added = names
    .filter((name) => !levels.some((level) => level.name === name))
    .map((name) => ({ name, ...values }));
  // Levels by number come in order; "boost" and the like stay behind them.
  const rank = ({ name }: Levels[number]): number => (/^\d+$/.test(name) ? Number(name) : Infinity);
  return [...kept, ...added].sort((a, b) => (rank(a) === rank(b) ? 0 : rank(a) - rank(b)));
}
