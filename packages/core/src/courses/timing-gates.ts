export type TimingGateKind = 'start' | 'finish' | 'lap' | 'temperature-stop';
/** A place on the course, by distance from its first point. */
export interface TimingGate {
  readonly kind: TimingGateKind;
  readonly name: string;
  readonly distanceM: number;
}

/**
 * Where the timed part of a course lies: between its start and finish gates, or all of it where none are set.
 * `isWhole` tells that nothing is cut off. In direction −1 the course is ridden from its finish to its start.
 */
export function timedSection(
  gates: readonly TimingGate[],
  lengthM: number,
  direction: 1 | -1 = 1,
): { readonly startM: number; readonly finishM: number; readonly isWhole: boolean } {
  const find = (kind: TimingGateKind): number | undefined => gates.find((gate) => gate.kind === kind)?.distanceM;
  const start = Math.min(lengthM, Math.max(0, find('start') ?? 0));
  const finish = Math.min(lengthM, Math.max(0, find('finish') ?? lengthM));
  const [startM, finishM] = direction === 1 ? [start, finish] : [lengthM - finish, lengthM - start];
  return { startM, finishM, isWhole: startM <= 0 && finishM >= lengthM };
}
