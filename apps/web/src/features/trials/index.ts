export { useGetTrialQuery } from './api.js';
