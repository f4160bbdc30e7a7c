/** How much a figure is worth, 0 (no good) to 1 (as good as one could wish), by corners with straight lines between them. */
export interface ValueFunction {
  /** In order of `at`, two or more; beyond the ends the worth stays. Units: those of the figure. */
  readonly points: readonly { readonly at: number; readonly worth: number }[];
}

/** A straight line from where a figure is no good to where more of it gains nothing. */
export function straightWorth(noGoodAt: number, fullAt: number): ValueFunction {
  const ends = [
    { at: noGoodAt, worth: 0 },
    { at: fullAt, worth: 1 },
  ];
  return { points: noGoodAt < fullAt ? ends : ends.reverse() };
}

/** Worth of one value, 0…1 where the corners are; the nearest end's beyond them. */
export function worthOf({ points }: ValueFunction, value: number): number {
  const after = points.findIndex(({ at }) => at >= value);
  if (after === 0) return points[0]!.worth;
  if (after < 0) return points.at(-1)!.worth;
  const [a, b] = [points[after - 1]!, points[after]!];
  return a.worth + ((b.worth - a.worth) * (value - a.at)) / (b.at - a.at);
}

/**
 * What is wrong with the corners of a value function; undefined where nothing is. A worth that rises and falls again is allowed:
 * too little of a thing may be as bad as too much.
 */
export function valueFunctionProblem({ points }: ValueFunction): string | undefined {
  if (points.length < 2) return 'It takes two corners or more.';
  if (points.some(({ at, worth }) => !Number.isFinite(at) || !(worth >= 0 && worth <= 1)))
    return 'Each corner takes a number and a worth between 0 and 1.';
  if (points.some(({ at }, k) => k > 0 && !(at > points[k - 1]!.at))) return 'The corners have to follow one another.';
  return undefined;
}
