/** What a running counter says of a ride. */
export interface CounterReading {
  /** Last less first, resets and wrap-arounds put together, in the column's unit. */
  readonly net: number;
  /** All rises, and all falls that are no reset (fed back). */
  readonly rises: number;
  readonly falls: number;
  readonly resolution: number;
  readonly resets: number;
  readonly samples: number;
}

/** A fall to less than this share of what stood there is a counter that began anew, not energy fed back. */
const RESET_SHARE = 0.3;
const RESET_STEPS = 5;

/**
 * Reads a column that counts on: energy, charge or distance. A counter set back to (nearly) nothing began anew; what it counted
 * between the last reading and the reset is lost, at most a few steps of it. Undefined with fewer than two readings or where it never
 * moves. Shapes: any length, NaN where missing.
 */
export function readCounter(column: Float64Array): CounterReading | undefined {
  let [rises, falls, resets, samples] = [0, 0, 0, 0];
  let last = NaN;
  const steps: number[] = [];
  for (const value of column) {
    if (Number.isNaN(value)) continue;
    samples++;
    const step = value - last;
    if (step > 0) {
      rises += step;
      if (steps.length < 5000) steps.push(step);
    } else if (step < 0) {
      const least = steps.length > 0 ? Math.min(...steps.slice(0, 200)) : 0;
      if (Math.abs(value) < RESET_SHARE * Math.abs(last) && -step > RESET_STEPS * least) {
        resets++;
        rises += Math.max(0, value);
      } else falls -= step;
    }
    last = value;
  }
  if (samples < 2 || (rises === 0 && falls === 0)) return undefined;
  const resolution = steps.sort((a, b) => a - b)[Math.floor(0.05 * steps.length)] ?? falls;
  return { net: rises - falls, rises, falls, resolution, resets, samples };
}
