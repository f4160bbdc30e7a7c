export { cropStrip } from './crop-strip.js';
export { StripRecorder } from './StripRecorder.js';
export { StripTable } from './StripTable.js';
export { useWidth } from './use-width.js';
export { TestPictures } from './TestPictures.js';
