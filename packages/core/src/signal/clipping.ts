/** Share of the readings at the very top, and how many in a row, that no wavering quantity shows. */
export interface ClipSigns {
  readonly share: number;
  readonly run: number;
}
const PLAIN_SIGNS: ClipSigns = { share: 0.02, run: 5 };
/** A coarse sensor meets each of its few readings again and again. */
const MIN_DISTINCT = 50;
const MIN_READINGS = 100;

/** The reading at which a sensor seems to be at its end: met exactly, in runs, while the rest wavers. Undefined where it is not so. */
export function clippedAt(values: Float64Array, { share, run: leastRun } = PLAIN_SIGNS): number | undefined {
  let most = -Infinity;
  let known = 0;
  const distinct = new Set<number>();
  for (let k = 0; k < values.length; k++) {
    const value = values[k]!;
    if (Number.isNaN(value)) continue;
    known++;
    if (distinct.size < MIN_DISTINCT) distinct.add(value);
    if (value > most) most = value;
  }
  if (known < MIN_READINGS || distinct.size < MIN_DISTINCT || !(most > 0)) return undefined;
  let met = 0;
  let run = 0;
  let longest = 0;
  for (let k = 0; k < values.length; k++) {
    run = values[k] === most ? run + 1 : 0;
    if (run > 0) met++;
    longest = Math.max(longest, run);
  }
  return met > share * known && longest >= leastRun ? most : undefined;
}
