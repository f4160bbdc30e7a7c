export { decimateMinMax, type DecimatedColumn } from './decimate-min-max.js';
export { findHampelOutliers, type HampelOptions } from './hampel-filter.js';
export { fitLocalLines } from './local-linear-fit.js';
export { estimateNoise, estimateResolution } from './sensor-noise.js';
