/* Coefficients of the rational approximations, by range of |x|. */
const SMALL_P = [
  3.1611237438705656, 113.864154151050156, 377.485237685302021, 3209.37758913846947, 0.185777706184603153,
];
const SMALL_Q = [23.6012909523441209, 244.024637934444173, 1282.61652607737228, 2844.23683343917062];
const MIDDLE_P = [
  0.564188496988670089, 8.88314979438837594, 66.1191906371416295, 298.635138197400131, 881.95222124176909,
  1712.04761263407058, 2051.07837782607147, 1230.33935479799725, 2.15311535474403846e-8,
];
const MIDDLE_Q = [
  15.7449261107098347, 117.693950891312499, 537.181101862009858, 1621.38957456669019, 3290.79923573345963,
  4362.61909014324716, 3439.36767414372164, 1230.33935480374942,
];
const LARGE_P = [
  0.305326634961232344, 0.360344899949804439, 0.125781726111229246, 0.0160837851487422766, 6.58749161529837803e-4,
  0.0163153871373020978,
];
const LARGE_Q = [
  2.56852019228982242, 1.87295284992346725, 0.527905102951428412, 0.0605183413124413191, 0.00233520497626869185,
];
const ONE_OVER_SQRT_PI = 0.56418958354775628695;

/**
 * Complementary error function, about 1e-16 relative over the whole range.
 * Source: Cody (1969), Math. Comp. 23(107), 631–637.
 */
export function erfc(x: number): number {
  const y = Math.abs(x);
  if (y <= 0.46875) return 1 - x * ratio(y * y, SMALL_P, SMALL_Q);
  const tail =
    y <= 4
      ? Math.exp(-y * y) * ratio(y, MIDDLE_P, MIDDLE_Q)
      : (Math.exp(-y * y) * (ONE_OVER_SQRT_PI - ratio(1 / (y * y), LARGE_P, LARGE_Q) / (y * y))) / y;
  return x >= 0 ? tail : 2 - tail;
}

/** Horner form as published: the last coefficient of `p` leads, the leading coefficient of the denominator is 1. */
function ratio(x: number, p: readonly number[], q: readonly number[]): number {
  let numerator = p[p.length - 1]! * x;
  let denominator = x;
  for (let k = 0; k < q.length - 1; k++) {
    numerator = (numerator + p[k]!) * x;
    denominator = (denominator + q[k]!) * x;
  }
  return (numerator + p[q.length - 1]!) / (denominator + q[q.length - 1]!);
}
