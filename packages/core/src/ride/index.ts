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
export {
  BEFORE_START_S,
  refusalOfStep,
  timesOfStep,
  type StepFacts,
  type StepRefusal,
  type StepTimes,
} from './step-ride.js';
export { afterEvent, isRefusal, type AlongEvent, type AlongMark, type AlongRideCore } from './along-ride.js';
export { PositionGates, type GateAhead } from './position-gates.js';
export { RIDE_STATE_LABELS, stopSentence } from './ride-words.js';
