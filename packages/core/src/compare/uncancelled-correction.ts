import { mean } from '../numeric/index.js';
import type { ComparedRun } from './comparison.js';

/**
 * What corrections add to the ratio of two setups, as a relative standard uncertainty.
 *
 * Each quantity that was corrected by moves the mean of a side by the mean of its runs' shares. What moves both sides alike
 * cancels; the rest adds up in quadrature over the quantities. Scatter knows nothing of it: all runs err together.
 */
export function uncancelledCorrection(a: readonly ComparedRun[], b: readonly ComparedRun[]): number {
  const ids = new Set([...a, ...b].flatMap(({ corrections = [] }) => corrections.map(({ id }) => id)));
  return Math.hypot(...[...ids].map((id) => mean(a.map(effectOf(id))) - mean(b.map(effectOf(id)))));
}

const effectOf =
  (id: string) =>
  ({ corrections = [] }: ComparedRun): number =>
    corrections.find((one) => one.id === id)?.relativeEffect ?? 0;
