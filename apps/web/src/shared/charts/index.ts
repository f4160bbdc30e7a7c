export { StripRecorder } from './StripRecorder.js';
export { StripTable } from './StripTable.js';
export { TestCharts } from './TestCharts.js';
export { cropStrip } from './crop-strip.js';
export { useWidth } from './use-width.js';
export { extent } from './extent.js';
export { CurveChart, type Curve, type CurvePoint } from './CurveChart.js';
