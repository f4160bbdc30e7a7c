export { graverOf, readingsByHand, type HandMark } from './readings-by-hand.js';
export { canBecome, isOver, NEEDS_REASON, RIDE_STATES, type RideState } from './ride-state.js';
export {
  stopConditions,
  USUAL_LIMITS,
  type RideLimits,
  type RideReadings,
  type StopCode,
  type StopCondition,
} from './stop-conditions.js';
