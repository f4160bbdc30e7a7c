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
/** Falling by so much more than it rises, a column counts down. */
const LEFT_SHARE = 20;

/**
 * Reads a column that counts on: energy, charge or distance. A counter set back to (nearly) nothing began anew; what it counted
 * between the last reading and the reset is lost, at most a few steps of it. Undefined with fewer than two readings or where it never
 * moves. Shapes: any length, NaN where missing.
 */
export function readCounter(column: Float64Array): CounterReading | undefined {
  const known = column.filter((value) => !Number.isNaN(value));
  const sizes: number[] = [];
  for (let k = 1; k < known.length; k++) if (known[k] !== known[k - 1]) sizes.push(Math.abs(known[k]! - known[k - 1]!));
  if (sizes.length === 0) return undefined;
  sizes.sort((a, b) => a - b);
  const usual = sizes[sizes.length >> 1]!;
  let [rises, falls, resets] = [0, 0, 0];
  for (let k = 1; k < known.length; k++) {
    const [last, value] = [known[k - 1]!, known[k]!];
    if (value >= last) rises += value - last;
    else if (Math.abs(value) < RESET_SHARE * Math.abs(last) && last - value > RESET_STEPS * usual) {
      resets++;
      rises += Math.max(0, value);
    } else falls += last - value;
  }
  const common = { resolution: sizes[Math.floor(0.05 * sizes.length)]!, resets, samples: known.length };
  // A column that only falls shows what is left: what it falls by was used.
  if (falls > LEFT_SHARE * rises) return { net: falls - rises, rises: falls, falls: rises, ...common };
  return { net: rises - falls, rises, falls, ...common };
}
