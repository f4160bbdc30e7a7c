export { findRoot } from './find-root.js';
export { integrateGaussLegendre } from './gauss-legendre.js';
export { integrateTrapezoid } from './integrate-trapezoid.js';
export { MAD_TO_SD, median, scaledMedianAbsoluteDeviation } from './median.js';
export { seededRandom, standardNormal, type Random } from './seeded-random.js';
export { erfc } from './erfc.js';
export { logGamma, regularizedBeta, regularizedGammaUpper } from './special-functions.js';
export { solveSymmetric } from './solve-symmetric.js';
