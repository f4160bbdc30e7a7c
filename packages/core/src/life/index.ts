export { socketUse, type ChargeAt, type SocketUse } from './charging.js';
export {
  LIFE_KINDS,
  REPLACED_BECAUSE,
  type LifeDetails,
  type LifeEntry,
  type LifeKind,
  type ReplacedBecause,
} from './entries.js';
export { lifeOf, watchedLife, type Life, type LifeFacts, type LifeSettings, type WatchedLife } from './life-of.js';
export { addDays, daysBetween } from './days.js';
export {
  FOLLOW_UP_KEYS,
  FOLLOW_UP_SCALES,
  followUpsDue,
  saidOfKits,
  USUAL_STAGES,
  type FollowUpAnswer,
  type FollowUpDue,
  type FollowUpKey,
  type FollowUpStage,
  type SaidOfKit,
} from './follow-ups.js';
export {
  distancesOf,
  kmAt,
  kmPerWeek,
  odometerLine,
  type OdometerEntry,
  type OdometerLine,
  type OdometerPoint,
  type OdometerProblem,
  type RiddenDistance,
} from './odometer.js';
export {
  packAgeing,
  resistanceGrowth,
  type CapacityReading,
  type PackAgeing,
  type ResistanceGrowth,
  type ResistanceReading,
} from './pack-ageing.js';
export { lastingKm, partLives, type PartLives, type Replacement } from './part-lives.js';
export {
  FAULT_EFFECTS,
  LIFE_PART_KEYS,
  LIFE_PARTS,
  wearOf,
  type FaultEffect,
  type LifePartKey,
  type WearMeasure,
} from './parts.js';
export {
  compareFaultRates,
  faultCurve,
  faultRate,
  faultTrend,
  GROUP_BY,
  reliability,
  type Conversion,
  type Fault,
  type FaultRate,
  type FaultTrend,
  type GroupBy,
  type RateComparison,
  type Reliability,
} from './reliability.js';
export {
  itemsOf,
  serviceDue,
  USUAL_SERVICE,
  type Done,
  type Due,
  type DueState,
  type Pace,
  type ServiceItem,
} from './service.js';
export { partNamed, readPasted, type Pasted, type PastedEntry, type PasteProblem } from './read-pasted.js';
export { wearForecast, type WearForecast, type WearReading } from './wear.js';
export { assessCycleClaim, warrantyWords, type LifeClaim } from './claims.js';
export { yearOnYear, type DatedValue, type YearOnYear } from './year-on-year.js';
