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
  let [known, met] = [0, 0];
  for (let k = 0; k < values.length; k++) {
    const value = values[k]!;
    if (Number.isNaN(value)) continue;
    known++;
    if (value > most) [most, met] = [value, 1];
    else if (value === most) met++;
  }
  if (known < MIN_READINGS || !(most > 0) || met <= share * known) return undefined;
  const distinct = new Set<number>();
  let run = 0;
  let longest = 0;
  for (let k = 0; k < values.length; k++) {
    const value = values[k]!;
    if (Number.isNaN(value)) continue;
    run = value === most ? run + 1 : 0;
    longest = Math.max(longest, run);
    if (distinct.size < MIN_DISTINCT) distinct.add(value);
  }
  return distinct.size >= MIN_DISTINCT && longest >= leastRun ? most : undefined;
}
