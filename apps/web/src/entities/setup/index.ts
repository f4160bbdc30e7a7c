export { factsOf } from './facts-of.js';
export { seenMarks } from './seen-marks.js';
export {
  useAddRevisionMutation,
  useAddSetupMutation,
  useArchiveSetupMutation,
  useChangeSetupMutation,
  useCopySetupMutation,
  useGetSetupQuery,
  useImportSetupMutation,
  useListSetupsQuery,
  useMarkMutation,
  useSetThumbRulesMutation,
  useThumbRulesQuery,
  useUnmarkMutation,
} from './api.js';
