export {
  useAddRatingMutation,
  useRatingsOfSetupQuery,
  useRatingsOfTrialQuery,
  useRemoveRatingMutation,
} from './api.js';
export { AGREEMENTS, HowItFelt } from './HowItFelt.js';
