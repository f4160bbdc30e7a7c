export { openCircuitVoltage } from './open-circuit-voltage.js';
export {
  type BikeModel,
  type ControllerModel,
  type MotorModel,
  type PackModel,
  type RideConditions,
  type RideCourse,
  type RideModel,
  type RiderModel,
  type Stop,
} from './parameters.js';
export { simulateRide, type EnergyBook, type RideResult, type RideTrace } from './simulate-ride.js';
export { writeRideCsv, type LoggerModel } from './write-ride-csv.js';
