/** Lanczos coefficients for g = 7, n = 9 (Numerical Recipes 3rd ed. form; ≈1e-15 relative). */
const LANCZOS = [
  0.999_999_999_999_809_93, 676.520_368_121_885_1, -1259.139_216_722_402_8, 771.323_428_777_653_13,
  -176.615_029_162_140_59, 12.507_343_278_686_905, -0.138_571_095_265_720_12, 9.984_369_578_019_571_6e-6,
  1.505_632_735_149_311_6e-7,
] as const;
const LN_SQRT_2PI = 0.918_938_533_204_672_8;

/** Natural logarithm of the gamma function for x > 0. Source: Lanczos (1964), SIAM J. Numer. Anal. B 1, 86–96. */
export function logGamma(x: number): number {
  if (x < 0.5) return Math.log(Math.PI / Math.abs(Math.sin(Math.PI * x))) - logGamma(1 - x);
  const y = x - 1;
  let series: number = LANCZOS[0];
  for (let k = 1; k < LANCZOS.length; k++) series += LANCZOS[k]! / (y + k);
  const t = y + 7.5;
  return LN_SQRT_2PI + (y + 0.5) * Math.log(t) - t + Math.log(series);
}

const TINY = 1e-300;
const MAX_TERMS = 20_000;

/**
 * Regularised incomplete beta function I_x(a, b), 0 ≤ x ≤ 1, a, b > 0.
 * Method: continued fraction by the modified Lentz algorithm, mirrored where it converges faster.
 * Source: DLMF 8.17.22.
 */
export function regularizedBeta(x: number, a: number, b: number): number {
  if (x <= 0) return 0;
  if (x >= 1) return 1;
  const front = Math.exp(logGamma(a + b) - logGamma(a) - logGamma(b) + a * Math.log(x) + b * Math.log1p(-x));
  return x < (a + 1) / (a + b + 2)
    ? (front * betaContinuedFraction(x, a, b)) / a
    : 1 - (front * betaContinuedFraction(1 - x, b, a)) / b;
}

function betaContinuedFraction(x: number, a: number, b: number): number {
  const guard = (value: number): number => (Math.abs(value) < TINY ? TINY : value);
  let c = 1;
  let d = 1 / guard(1 - ((a + b) * x) / (a + 1));
  let fraction = d;
  for (let m = 1; m < MAX_TERMS; m++) {
    const even = (m * (b - m) * x) / ((a + 2 * m - 1) * (a + 2 * m));
    d = 1 / guard(1 + even * d);
    c = guard(1 + even / c);
    fraction *= d * c;
    const odd = (-(a + m) * (a + b + m) * x) / ((a + 2 * m) * (a + 2 * m + 1));
    d = 1 / guard(1 + odd * d);
    c = guard(1 + odd / c);
    const step = d * c;
    fraction *= step;
    if (Math.abs(step - 1) < 1e-16) break;
  }
  return fraction;
}

/** Regularised upper incomplete gamma function Q(a, x), a > 0, x ≥ 0. Source: DLMF 8.7.1 and 8.9.2. */
export function regularizedGammaUpper(a: number, x: number): number {
  if (x <= 0) return 1;
  const front = Math.exp(a * Math.log(x) - x - logGamma(a));
  if (x < a + 1) {
    let term = 1 / a;
    let sum = term;
    for (let k = 1; k < MAX_TERMS; k++) {
      term *= x / (a + k);
      sum += term;
      if (Math.abs(term) < Math.abs(sum) * 1e-17) break;
    }
    return 1 - front * sum;
  }
  let b = x + 1 - a;
  let c = 1 / TINY;
  let d = 1 / b;
  let fraction = d;
  for (let k = 1; k < MAX_TERMS; k++) {
    const an = -k * (k - a);
    b += 2;
    d = an * d + b;
    if (Math.abs(d) < TINY) d = TINY;
    c = b + an / c;
    if (Math.abs(c) < TINY) c = TINY;
    d = 1 / d;
    const step = d * c;
    fraction *= step;
    if (Math.abs(step - 1) < 1e-16) break;
  }
  return front * fraction;
}
