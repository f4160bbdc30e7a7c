export { useStandQuery } from './api.js';
