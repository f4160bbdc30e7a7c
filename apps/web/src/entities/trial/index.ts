export {
  toTrialInput,
  useArchiveTrialMutation,
  useGetTrialQuery,
  useGetTrialRunsQuery,
  useGetVerdictQuery,
  useListTrialsQuery,
  useSaveTrialMutation,
} from './api.js';
export { StoredRides } from './StoredRides.js';
