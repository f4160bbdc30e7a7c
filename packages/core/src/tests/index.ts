export { makeFigure, type Contribution, type Derivation, type Figure, type FigureWarning } from './figure.js';
export { DEFAULT_INSTRUMENT, type InstrumentErrors } from './instrument.js';
export { RANGE_METHOD, type Method } from './method.js';
export { analyseRange, type RangeAnalysis } from './range/analyse-range.js';
export { CLIMB_HYSTERESIS_M, climbedM, smoothProfile, type AltitudeProfile } from './range/climbing.js';
export { firstAtOrAfter } from './range/ride-integrals.js';
export { type TestContext } from './test-context.js';
