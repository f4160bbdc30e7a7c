export { EmptyStart, StartChoices } from './EmptyStart.js';
