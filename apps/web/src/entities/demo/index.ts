export { EmptyStart } from './EmptyStart.js';
