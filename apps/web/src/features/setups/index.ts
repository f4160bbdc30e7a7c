export { useListSetupsQuery } from './api.js';
