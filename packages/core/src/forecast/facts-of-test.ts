import type { TestKind } from '../analysis/index.js';
import type { RideFacts } from './ride-record.js';

/** Ridden as people ride: a forecast of it can be checked. */
const ORDINARY: ReadonlySet<TestKind> = new Set(['range', 'hill-climb', 'heating']);

/**
 * What the kind of test tells of a ride: on the stand the wheel turned free, a coast has no rider, and only ordinary riding can be foretold.
 * What was stated of the rider comes after it.
 */
export function factsOfTest(
  kind: TestKind,
): Pick<RideFacts, 'isOnRoad' | 'isOrdinary'> & { readonly riderPowerW?: number } {
  return {
    isOrdinary: ORDINARY.has(kind),
    ...(kind === 'stand' && { isOnRoad: false }),
    ...(kind === 'coast-down' && { riderPowerW: 0 }),
  };
}
