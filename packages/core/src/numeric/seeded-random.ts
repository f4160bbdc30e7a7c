/** A stream of uniform numbers in [0, 1). Chance is always an argument, so that a result can be recomputed. */
export type Random = () => number;

/**
 * Deterministic generator with 128 bits of state, seeded from one integer.
 * Source: xoshiro128**, Blackman & Vigna (2021), ACM Trans. Math. Softw. 47(4); seeded by splitmix32.
 */
export function seededRandom(seed: number): Random {
  let mixed = seed >>> 0;
  const split = (): number => {
    mixed = (mixed + 0x9e37_79b9) >>> 0;
    let z = mixed;
    z = Math.imul(z ^ (z >>> 16), 0x85eb_ca6b);
    z = Math.imul(z ^ (z >>> 13), 0xc2b2_ae35);
    return z ^ (z >>> 16);
  };
  const state = Int32Array.of(split(), split(), split(), split());
  return () => {
    let s0 = state[0]!;
    let s1 = state[1]!;
    let s2 = state[2]!;
    let s3 = state[3]!;
    let high = 0;
    let low = 0;
    for (let half = 0; half < 2; half++) {
      high = low;
      low = Math.imul(rotate(Math.imul(s1, 5), 7), 9);
      const shifted = s1 << 9;
      s2 ^= s0;
      s3 ^= s1;
      s1 ^= s2;
      s0 ^= s3;
      s2 ^= shifted;
      s3 = rotate(s3, 11);
    }
    state[0] = s0;
    state[1] = s1;
    state[2] = s2;
    state[3] = s3;
    return ((high >>> 5) * 0x400_0000 + (low >>> 6)) / 0x20_0000_0000_0000;
  };
}

function rotate(x: number, by: number): number {
  return (x << by) | (x >>> (32 - by));
}

/** One standard normal number by the Marsaglia polar method. */
export function standardNormal(random: Random): number {
  for (;;) {
    const u = 2 * random() - 1;
    const v = 2 * random() - 1;
    const square = u * u + v * v;
    if (square > 0 && square < 1) return u * Math.sqrt((-2 * Math.log(square)) / square);
  }
}
