import type { Ride, RideMark } from '@ebrix/contract';
import { TEST_KINDS } from '@ebrix/core/analysis';

/** The gate that a tap means now: start, then finish, and the other way back where the test is ridden both ways. */
export function nextTimingGate(
  marks: readonly RideMark[],
  testKind: Ride['testKind'],
): { kind: 'finish' | 'start'; direction: 1 | -1 } {
  const gates = marks.filter(({ kind, isUndone }) => !isUndone && (kind === 'start' || kind === 'finish'));
  const last = gates.at(-1);
  if (last?.kind === 'start') return { kind: 'finish', direction: last.direction ?? 1 };
  const passes = gates.filter(({ kind }) => kind === 'finish').length;
  return { kind: 'start', direction: TEST_KINDS[testKind].bothDirections && passes % 2 === 1 ? -1 : 1 };
}
