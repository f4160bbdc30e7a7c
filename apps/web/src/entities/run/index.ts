export { AssignmentFields } from './AssignmentFields.js';
export { CleaningReport, cleaningSentences } from './CleaningReport.js';
export { CourseRuns } from './CourseRuns.js';
export { Derivation } from './Derivation.js';
export { FigureStrip, FigureTable } from './FigureStrip.js';
export { RidingFields } from './RidingFields.js';
export { WAY_OPTIONS } from './riding-options.js';
export { PartsTable } from './PartsTable.js';
export { confirmedParts, matchedToPlan, slotOptions, toProposedParts, type ProposedPart } from './planned-runs.js';
export { NUMBER_READINGS, SEVERAL_READINGS, type ReadingName } from './readings.js';
export { ReadingsFields } from './ReadingsFields.js';
export { SetupFigures } from './SetupFigures.js';
export {
  runsApi,
  type TimeSpan,
  useAssignRunMutation,
  useBeginReanalysisMutation,
  useChangeRidingMutation,
  useDeleteRunsMutation,
  useProposeRunSplitMutation,
  useRestoreRunsMutation,
  useSplitRunMutation,
  useCancelReanalysisMutation,
  useCorrectSpansMutation,
  useExcludeRunMutation,
  useGetRunQuery,
  useGetStripQuery,
  useIncludeRunMutation,
  useListRunsQuery,
  useReanalysisQuery,
  useRepeatedFiguresQuery,
  useUndoCorrectionMutation,
} from './api.js';
export { rulesOf, useThumbRules } from './use-thumb-rules.js';
export { readWheelFactor, WheelFactorInput } from './WheelFactorInput.js';
export { type AssignmentValues, toAssignment, toRiding } from './to-assignment.js';
