export {
  type NewFinding,
  useAddFindingMutation,
  useFindingsQuery,
  useRemoveFindingMutation,
  useSaveStandMutation,
  useStandQuery,
} from './api.js';
