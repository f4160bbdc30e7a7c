export { carriedMarks } from './carried-marks.js';
export { axleLoads, type AxleLoads } from './axle-loads.js';
export { checkSetup, countChecks, type Check, type CheckCounts, type CheckState, type Mark } from './check-setup.js';
export { isEstimate, type Estimate, type EstimateOrReason } from './estimate.js';
export { exactSum } from './exact-sum.js';
export {
  isConverted,
  isFrontHub,
  isHub,
  type AddOnFacts,
  type AddOnKind,
  type BikeFacts,
  type BoxItem,
  type ChargerFacts,
  type Claims,
  type ConvertedSetup,
  type FitFacts,
  type FrameMeasures,
  type KitFacts,
  type LevelSetting,
  type LimitFacts,
  type MotorKind,
  type MountKind,
  type PackFacts,
  type Place,
  type Price,
  type SettingFacts,
  type SetupFacts,
} from './facts.js';
export { DIFFICULTY_ANCHORS, fittingSteps, type FittingStepPlan } from './fitting-steps.js';
export { driveSideTable, type DriveSideRow, type DriveSideStock } from './drive-side-table.js';
export { frameShape, roomAlong, type FrameShape, type PackRoom, type Point } from './frame-room.js';
export { PAST_RIDES, CHECKS_ITEM, clearanceItems, openClearance, type ClearanceItem } from './clearance.js';
export { mostWanted, type WantedFact } from './most-wanted.js';
export { money, type MoneyRollUp } from './money.js';
export {
  chargeCost,
  chargeTime,
  fullVoltageV,
  packEnergy,
  thumbRange,
  type ChargeCost,
  type PackEnergy,
  type ThumbRule,
} from './pack-energy.js';
export { CADENCE_RPM, rollUp, type RollUp } from './roll-up.js';
export { type CheckGroup, type FactOwner, type Need, type Rule, type Severity } from './rule.js';
export { blocksInSeries, gaugeMm2, WIRE_GAUGES } from './usual-sizes.js';
export { RULES } from './rules/index.js';
export { amount, plainText, say, type Amount, type Sentence } from '../units/index.js';
export {
  chainrings,
  gearSpeeds,
  helpEndsKmh,
  noLoadRpm,
  noLoadSpeed,
  ridingCircumferenceM,
  topAssistedKmh,
  type GearSpeed,
} from './speeds.js';
export { standFigures, STAND_LIMITS, STAND_METHOD, wheelCircumference, type StandReadings } from './stand.js';
export { packPlace, totalMass, type MassItem, type MassRollUp } from './total-mass.js';
export { SYMPTOMS, type Suspect, type Symptom } from './trouble-shooting.js';
export {
  BOX_STATES,
  deliveryDays,
  DRILL_BEYOND_MM,
  drillStop,
  guessAgainstClock,
  PACK_TRIALS,
  packsToTry,
  toClaim,
  TOOL_SOURCES,
  warrantyEnds,
  WIRE_STATES,
  type FittingRecord,
} from './fitting-record.js';
