import type { ChannelColumns } from './channels.js';

/** A speed by satellite never quite rests: below this for some seconds the bike stands. */
const CREEP_MPS = 0.9;
const MEAN_CREEP_MPS = 0.6;
const SHORTEST_S = 4;
/** A sensor that shows true zeros in most of its slow samples needs no help. */
const TRUE_ZERO_MPS = 0.05;
const MOST_ZEROS = 0.5;

/**
 * Sets to zero, in place, what a speed shows while the bike stands, where it never rests by itself. Answers how many samples.
 * Shapes: equal lengths; s, m/s, NaN where missing.
 */
export function restCreep(timeS: Float64Array, { speed }: Pick<ChannelColumns, 'speed'>): number {
  if (!speed) return 0;
  const runs: [from: number, to: number][] = [];
  let [slow, zeros, from] = [0, 0, -1];
  for (let k = 0; k <= speed.length; k++) {
    const v = speed[k];
    if (v !== undefined && (Number.isNaN(v) ? from >= 0 : v < CREEP_MPS)) {
      if (from < 0) from = k;
      continue;
    }
    if (from >= 0 && timeS[k - 1]! - timeS[from]! >= SHORTEST_S) {
      let [sum, count] = [0, 0];
      for (let j = from; j < k; j++) {
        if (Number.isNaN(speed[j]!)) continue;
        sum += speed[j]!;
        count++;
        if (speed[j]! < TRUE_ZERO_MPS) zeros++;
      }
      slow += count;
      if (sum < MEAN_CREEP_MPS * count) runs.push([from, k]);
    }
    from = -1;
  }
  if (slow === 0 || zeros > MOST_ZEROS * slow) return 0;
  let changed = 0;
  // The first and the last of them may be the end of slowing down and the start.
  for (const [first, end] of runs)
    for (let k = first + 1; k < end - 1; k++)
      if (speed[k]! > 0) {
        speed[k] = 0;
        changed++;
      }
  return changed;
}
