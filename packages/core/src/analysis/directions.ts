import type { CleanLog } from '../logs/index.js';

export interface Directions {
  /** There (1) or back (−1), one a span. */
  readonly of: readonly (1 | -1)[];
  /** Nothing tells some of them: they were taken to alternate. */
  readonly isInTurns: boolean;
}

/** A span shorter than this on the map has no direction that a position of a few metres' error tells. */
const MIN_WAY_M = 40;
/** Cosine of the angle to the first span's line: what runs more across it is neither there nor back. */
const ALONG = 0.7;
const METRES_PER_DEGREE = 111_195;

/**
 * Directions of spans of a level strip or slope, samples `from` to `to`: as the tester set them, else as noted, else by
 * the positions in the log, the first being there; what nothing tells is taken to alternate.
 */
export function directionsOf(
  log: CleanLog,
  spans: readonly { readonly from: number; readonly to: number; readonly direction?: 1 | -1 | undefined }[],
  noted: readonly (1 | -1)[] | undefined,
): Directions {
  const ways = spans.map(({ from, to }) => wayOf(log, from, to));
  const first = ways.findIndex((way) => way !== undefined);
  const of: (1 | -1)[] = [];
  let isInTurns = false;
  spans.forEach(({ direction }, k) => {
    const known = direction ?? noted?.[k] ?? along(ways[k], ways[first], of[first]);
    isInTurns ||= known === undefined;
    of.push(known ?? (k === 0 || of[k - 1] === -1 ? 1 : -1));
  });
  return { of, isInTurns };
}

/** From the first position of a span to its last, m to the east and to the north. */
function wayOf(
  { channels: { latitude, longitude } }: CleanLog,
  from: number,
  to: number,
): [number, number] | undefined {
  if (!latitude || !longitude) return undefined;
  const isPlaced = (k: number): boolean => Number.isFinite(latitude[k]!) && Number.isFinite(longitude[k]!);
  let [a, b] = [from, to];
  while (a < b && !isPlaced(a)) a++;
  while (b > a && !isPlaced(b)) b--;
  if (a === b) return undefined;
  const narrowing = Math.cos((latitude[a]! * Math.PI) / 180);
  const way: [number, number] = [
    (longitude[b]! - longitude[a]!) * narrowing * METRES_PER_DEGREE,
    (latitude[b]! - latitude[a]!) * METRES_PER_DEGREE,
  ];
  return Math.hypot(...way) < MIN_WAY_M ? undefined : way;
}

function along(
  way: readonly [number, number] | undefined,
  first: readonly [number, number] | undefined,
  firstDirection: 1 | -1 = 1,
): 1 | -1 | undefined {
  if (!way || !first) return undefined;
  const cosine = (way[0] * first[0] + way[1] * first[1]) / Math.hypot(...way) / Math.hypot(...first);
  if (Math.abs(cosine) < ALONG) return undefined;
  return cosine > 0 ? firstDirection : firstDirection === 1 ? -1 : 1;
}
