export { StripRecorder } from './StripRecorder.js';
export { StripTable } from './StripTable.js';
export { useWidth } from './use-width.js';
