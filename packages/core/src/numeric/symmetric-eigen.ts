/** Sweeps after which a symmetric matrix of any size met here has long been diagonal. */
const MAX_SWEEPS = 60;

/**
 * Eigenvalues and orthonormal eigenvectors (columns, row-major p × p) of a symmetric matrix, row-major p × p.
 *
 * Method: cyclic Jacobi rotations (Golub & Van Loan, Matrix Computations, 8.5), O(p³) a sweep; for small p.
 */
export function symmetricEigen(
  matrix: ArrayLike<number>,
  p: number,
): { readonly values: Float64Array; readonly vectors: Float64Array } {
  const a = Float64Array.from(matrix);
  const vectors = Float64Array.from({ length: p * p }, (_, k) => (k % (p + 1) === 0 ? 1 : 0));
  const scale = a.reduce((most, value) => Math.max(most, Math.abs(value)), 0);
  for (let sweep = 0; sweep < MAX_SWEEPS; sweep++) {
    let off = 0;
    for (let i = 0; i < p; i++) for (let j = i + 1; j < p; j++) off = Math.max(off, Math.abs(a[i * p + j]!));
    if (off <= 1e-16 * scale) break;
    for (let i = 0; i < p; i++)
      for (let j = i + 1; j < p; j++) {
        const apq = a[i * p + j]!;
        if (apq === 0) continue;
        const theta = (a[j * p + j]! - a[i * p + i]!) / (2 * apq);
        const t = (theta >= 0 ? 1 : -1) / (Math.abs(theta) + Math.hypot(theta, 1));
        const c = 1 / Math.hypot(t, 1);
        const s = t * c;
        for (let k = 0; k < p; k++) {
          const [left, right] = [a[k * p + i]!, a[k * p + j]!];
          a[k * p + i] = c * left - s * right;
          a[k * p + j] = s * left + c * right;
        }
        for (let k = 0; k < p; k++) {
          const [upper, lower] = [a[i * p + k]!, a[j * p + k]!];
          a[i * p + k] = c * upper - s * lower;
          a[j * p + k] = s * upper + c * lower;
          const [left, right] = [vectors[k * p + i]!, vectors[k * p + j]!];
          vectors[k * p + i] = c * left - s * right;
          vectors[k * p + j] = s * left + c * right;
        }
      }
  }
  return { values: Float64Array.from({ length: p }, (_, k) => a[k * p + k]!), vectors };
}
