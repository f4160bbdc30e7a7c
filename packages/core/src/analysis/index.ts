export { PROPOSED_LEVEL, PROPOSED_WAY, proposeRiding } from './quality/propose-riding.js';
export {
  makeFigure,
  warnInto,
  type Contribution,
  type Derivation,
  type Figure,
  type FigureWarning,
  type Warn,
} from './figure.js';
export { DEFAULT_INSTRUMENT, type InstrumentErrors } from './instrument.js';
export { METHODS, SETTABLE_SPANS, TEST_KIND_NAMES, TEST_KINDS, type Method, type TestKind } from './test-kinds.js';
export {
  findStops,
  SPAN_KINDS,
  type Findings,
  type GivenSpan,
  type Chart,
  type Span,
  type SpanKind,
} from './findings.js';
export { analyseRange, type RangeAnalysis } from './range/analyse-range.js';
export { rideDistance, type RideDistance } from './range/ride-distance.js';
export { electricalPower } from './range/ride-integrals.js';
export { CLIMB_HYSTERESIS_M, climbedM, smoothProfile, type AltitudeProfile } from './range/climbing.js';
export { firstAtOrAfter } from '../numeric/index.js';
export { contradictionsOf, type Contradiction } from './manual/contradictions.js';
export { airDensityOf, type CourseKnowledge, type TestContext } from './test-context.js';
export { analyseTest, MANUAL_METHOD, type Taught, type TestAnalysis } from './analyse-test.js';
export { HOW_TO_RIDE, PART_WAY_RULES, type HowToRide } from './how-to-ride.js';
export { manualFigures } from './manual/manual-figures.js';
export { THUMB_LIMIT_S } from './manual/manual-parts.js';
export {
  passesOf,
  type ManualLap,
  type ManualPass,
  type ManualReadings,
  type SpotTemperature,
  MOTOR_TOUCHES,
  type MotorTouch,
} from './manual/manual-readings.js';
export { cutAtGates, cutForTest, warnOfCut } from './cut-log.js';
export { type ResponseEvent } from './assist-response/find-starts.js';
export { type LevelResult } from './assist-levels/analyse-levels.js';
export { type SpeedPass } from './top-speed/measure-passes.js';
export { type CoastSpan } from './coast-down/analyse-coasts.js';
export { analyseLog, type LogAnalysis } from './analyse-log.js';
export { splitOuting, type TimingGatePositions, type ProposedRun } from './split-outing.js';
export { outlyingEffort } from './quality/outlying-effort.js';
