export { AssignmentFields, KIND_OPTIONS } from './AssignmentFields.js';
export { CleaningReport, cleaningSentences } from './CleaningReport.js';
export { CourseRuns } from './CourseRuns.js';
export { Derivation } from './Derivation.js';
export { FigureStrip, FigureTable } from './FigureStrip.js';
export { SetupFigures } from './SetupFigures.js';
export {
  runsApi,
  type TimeSpan,
  useAssignRunMutation,
  useBeginReanalysisMutation,
  useCancelReanalysisMutation,
  useCorrectSpansMutation,
  useExcludeRunMutation,
  useGetRunQuery,
  useGetStripQuery,
  useIncludeRunMutation,
  useListRunsQuery,
  useReanalysisQuery,
  useUndoCorrectionMutation,
} from './api.js';
export { type AssignmentValues, toAssignment } from './to-assignment.js';
