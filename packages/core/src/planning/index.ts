export { balancedOrder, type OrderRequest, type RidingOrder } from './balanced-order.js';
export { assessOrder, type OrderAssessment, type OrderReason } from './assess-order.js';
export { detectableDifference, MAX_RUNS, powerCurve, powerOfPlan, runsForPlan, type PlanDesign } from './plan-power.js';
export { repeatsOf, type Repeats } from './repeats.js';
export { repeatabilityOf, type Repeatability, type RepeatedRun, type UsualSpread } from './repeatability.js';
export { estimateRide, estimateUnassisted, type RideEstimate } from './estimate-ride.js';
export {
  scheduleOuting,
  type OutingProblem,
  type OutingRules,
  type OutingSchedule,
  type OutingStep,
  type PackBudget,
  type SlotEstimate,
} from './schedule-outing.js';
export { changeWork, outlinePlan, type PlannedSetup, type PlannedSlot, type PlanOutline } from './outline-plan.js';
export { chargingOf, estimateFromOwnRides, type OwnRideEstimate } from './own-rides.js';
