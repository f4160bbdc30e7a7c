export {
  toTrialInput,
  useArchiveTrialMutation,
  useGetTrialQuery,
  useGetTrialRunsQuery,
  useGetVerdictQuery,
  useListTrialsInfiniteQuery,
  useGetTrialInBriefQuery,
  useListTrialNamesQuery,
  useSaveTrialMutation,
} from './api.js';
export { StoredRides } from './StoredRides.js';
