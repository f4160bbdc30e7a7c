const POINTS = 32;
const { nodes: NODES, weights: WEIGHTS } = makeRule(POINTS);

/** ∫f over [lower, upper] by 32-point Gauss–Legendre on equal panels; exact for polynomials up to degree 63 a panel. */
export function integrateGaussLegendre(f: (x: number) => number, lower: number, upper: number, panels = 1): number {
  const width = (upper - lower) / panels;
  let total = 0;
  for (let panel = 0; panel < panels; panel++) {
    const centre = lower + (panel + 0.5) * width;
    for (let k = 0; k < POINTS; k++) total += WEIGHTS[k]! * f(centre + (width / 2) * NODES[k]!);
  }
  return (total * width) / 2;
}

/** Nodes by Newton's method on the Legendre polynomial. Source: DLMF 3.5(v). */
function makeRule(n: number): { nodes: Float64Array; weights: Float64Array } {
  const nodes = new Float64Array(n);
  const weights = new Float64Array(n);
  for (let i = 0; i < n; i++) {
    let x = Math.cos((Math.PI * (i + 0.75)) / (n + 0.5));
    let derivative = 1;
    for (let iteration = 0; iteration < 100; iteration++) {
      let p = 1;
      let previous = 0;
      for (let k = 1; k <= n; k++) [p, previous] = [((2 * k - 1) * x * p - (k - 1) * previous) / k, p];
      derivative = (n * (x * p - previous)) / (x * x - 1);
      const step = p / derivative;
      x -= step;
      if (Math.abs(step) < 1e-16) break;
    }
    nodes[i] = x;
    weights[i] = 2 / ((1 - x * x) * derivative * derivative);
  }
  return { nodes, weights };
}
