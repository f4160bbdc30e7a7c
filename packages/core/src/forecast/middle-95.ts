import { sampleQuantile } from '../statistics/index.js';

/** Some hundred draws do not show the ends well: a little more than 95 in 100 is taken. */
const TAIL = 0.022;

/** Where 95 in 100 of some values lie. Holds the centre in any case. */
export function middle95(values: readonly number[], centre: number): readonly [number, number] {
  return [Math.min(centre, sampleQuantile(values, TAIL)), Math.max(centre, sampleQuantile(values, 1 - TAIL))];
}
