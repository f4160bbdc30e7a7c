export { slowTimeConstantS } from './motor-heat.js';
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
export { simulateRide, type RideResult } from './simulate-ride.js';
export type { EnergyBook } from './energy-book.js';
export type { RideTrace } from './ride-trace.js';
export { rideTest, type TestDay, type TestRide } from './test-rides/index.js';
export { joinTraces, thinTrace } from './traces.js';
export { writeRideCsv, type LoggerModel } from './write-ride-csv.js';
export { EFFORTS, modelFromFacts, type Effort, type ModelFromFacts, type WayOfRiding } from './model-from-facts.js';
export { readSensors, type SensorReading } from './ride-sensors.js';
export { rideCourseOf, type CourseShape } from './ride-course.js';
export { learnedRule, thumbWayOf, workedThumbRules, type ThumbWay, type WorkedRule } from './thumb-rules.js';
