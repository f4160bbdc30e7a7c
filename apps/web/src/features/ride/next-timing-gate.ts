import type { Ride, RideMark } from '@ebrix/contract';
import { TEST_KINDS } from '@ebrix/core/analysis';

export interface NextGate {
  readonly kind: 'finish' | 'lap' | 'start';
  readonly direction: 1 | -1;
}

/** Ridden round and round in one go; a climb or a strip is timed anew each time. */
const IN_ROUNDS: ReadonlySet<Ride['testKind']> = new Set(['battery', 'heating', 'range']);

/** The gate that a tap means now: start, the laps that are to be ridden, then finish, and the other way back where the test is ridden both ways. */
export function nextTimingGate(
  marks: readonly RideMark[],
  { testKind, laps }: Pick<Ride, 'laps' | 'testKind'>,
): NextGate {
  const gates = marks.filter(
    ({ kind, isUndone }) => !isUndone && (kind === 'start' || kind === 'lap' || kind === 'finish'),
  );
  const startAt = gates.findLastIndex(({ kind }) => kind === 'start');
  const sinceStart = gates.slice(startAt + 1);
  if (startAt >= 0 && sinceStart.every(({ kind }) => kind === 'lap')) {
    const direction = gates[startAt]!.direction ?? 1;
    const rounds = IN_ROUNDS.has(testKind) ? laps : 1;
    return { kind: sinceStart.length < rounds - 1 ? 'lap' : 'finish', direction };
  }
  const passes = gates.filter(({ kind }) => kind === 'finish').length;
  return { kind: 'start', direction: TEST_KINDS[testKind].bothDirections && passes % 2 === 1 ? -1 : 1 };
}
