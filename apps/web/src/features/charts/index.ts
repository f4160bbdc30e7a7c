export { cropStrip } from './crop-strip.js';
export { StripRecorder } from './StripRecorder.js';
export { StripTable } from './StripTable.js';
export { useWidth } from './use-width.js';
export { TestCharts } from './TestCharts.js';
