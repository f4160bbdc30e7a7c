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
    return (z ^ (z >>> 16)) >>> 0;
  };
  const s = new Uint32Array([split(), split(), split(), split()]);
  const rotate = (x: number, k: number): number => ((x << k) | (x >>> (32 - k))) >>> 0;
  const next = (): number => {
    const result = Math.imul(rotate(Math.imul(s[1]!, 5) >>> 0, 7), 9) >>> 0;
    const t = (s[1]! << 9) >>> 0;
    s[2]! ^= s[0]!;
    s[3]! ^= s[1]!;
    s[1]! ^= s[2]!;
    s[0]! ^= s[3]!;
    s[2]! ^= t;
    s[3] = rotate(s[3]!, 11);
    return result;
  };
  return () => ((next() >>> 5) * 0x400_0000 + (next() >>> 6)) / 0x20_0000_0000_0000;
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
