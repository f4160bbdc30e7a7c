export { graverOf, readingsFromMarks, type ManualMark } from './readings-from-marks.js';
export { canBecome, isOver, NEEDS_REASON, RIDE_STATES, type RideState } from './ride-state.js';
export {
  stopConditions,
  USUAL_LIMITS,
  type RideLimits,
  type RideReadings,
  type StopCode,
  type StopCondition,
} from './stop-conditions.js';
