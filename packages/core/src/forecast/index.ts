export {
  CALIBRATION_VERSION,
  calibrate,
  centreOf,
  sharedByBike,
  type Calibration,
  type LearntParameter,
} from './calibrate.js';
export type { CommandFit, CommandLaw } from './command-fit.js';
export { forecastOfRides, missedChecks, type ForecastRequest, type ForecastAnswer } from './forecast-of-rides.js';
export { estimateCalibrated } from './estimate-calibrated.js';
export { factsOfTest } from './facts-of-test.js';
export { knownFromFacts } from './known-from-facts.js';
export { PARAMETERS, type KnownOfBike, type ParameterName } from './parameters.js';
export { FORECAST_FIGURES, type FigureKey } from './path-figures.js';
export { forecast, type Forecast, type ForecastFigure } from './predict.js';
export { rideRecord, summaryRecord, type RideFacts, type RideFigures, type RideRecord } from './ride-record.js';
export type { ForecastPoint } from './along-way.js';
export {
  MOST_PROFILE_POINTS,
  turnedRound,
  type ForecastRiding,
  type ForecastWarning,
  type Scenario,
} from './scenario.js';
export { trustOf, type Trust, type TrustFigure, type TrustRide } from './trust.js';
export type { Ridden } from './what-was-ridden.js';
export { headedWay, thereAndBack, type HeadedWay, type WayShape } from './way-headings.js';
export type { WayPoint } from './path.js';
