export { binExtremes, type BinnedExtremes } from './bin-extremes.js';
export { findHampelOutliers, type HampelOptions } from './hampel-filter.js';
export { fitLocalLines } from './local-linear-fit.js';
export { presentSamples, type PresentSamples } from './present-samples.js';
export { estimateNoise, estimateResolution } from './sensor-noise.js';
export { buildPyramid, PYRAMID_BINS, pyramidLevelFor, pyramidLevelOffset, VALUES_PER_BIN } from './pyramid.js';
export { clippedAt, type ClipSigns } from './clipping.js';
