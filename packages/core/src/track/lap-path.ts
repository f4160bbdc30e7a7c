import { METRES_PER_DEGREE, type PathPlace, type Place } from './place.js';

/** A course whose ends lie as near to each other as this comes round. */
const ROUND_M = 60;

export interface LappedPath<G> {
  readonly path: readonly PathPlace[];
  readonly gates: readonly G[];
}

/** A way that is ridden several times, one lap behind the other, with its gates in each; once where it does not come round. */
export function lapPath<G extends { readonly distanceM: number }>(
  path: readonly PathPlace[],
  gates: readonly G[],
  { laps, lengthM }: { readonly laps: number; readonly lengthM: number | null },
): LappedPath<G> {
  const [first, last] = [path[0], path.at(-1)];
  if (laps <= 1 || lengthM === null || !first || !last || apartM(first, last) > ROUND_M) return { path, gates };
  const each = Array.from({ length: laps }, (_, lap) => lap * lengthM);
  const behind = <T extends { readonly distanceM: number }>(list: readonly T[]): T[] =>
    each.flatMap((beforeM) => list.map((one) => ({ ...one, distanceM: one.distanceM + beforeM })));
  return { path: behind(path), gates: behind(gates) };
}

function apartM(a: Place, b: Place): number {
  const east = Math.cos((a.latitude * Math.PI) / 180) * METRES_PER_DEGREE;
  return Math.hypot((b.longitude - a.longitude) * east, (b.latitude - a.latitude) * METRES_PER_DEGREE);
}
