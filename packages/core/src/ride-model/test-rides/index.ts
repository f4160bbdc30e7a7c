import type { TestKind } from '../../analysis/index.js';
import type { RideModel } from '../parameters.js';
import { rideClimb } from './climb.js';
import type { Ridden, TestDay, TestRide } from './test-ride.js';
import { rideHeating } from './heating.js';
import { rideCoasts, ridePasses } from './passes-and-coasts.js';
import { rideLevels, rideRange } from './range-and-levels.js';
import { rideStarts } from './starts.js';
import { rideLoadSteps, spinWheel } from './workshop.js';

export { type TestDay, type TestRide } from './test-ride.js';

/**
 * Rides a test of each kind on the ride model, as a tester would ride it, and tells what is true of it: the model's own
 * parameters where the figure is one (drag area, time constant, resistance), else the noiseless trace.
 */
export function rideTest(kind: TestKind, model: RideModel, day: TestDay): TestRide {
  return { kind, ...RIDES[kind](model, day) };
}

const RIDES: Readonly<Record<TestKind, (model: RideModel, day: TestDay) => Ridden>> = {
  range: rideRange,
  'assist-levels': rideLevels,
  'top-speed': ridePasses,
  'hill-climb': rideClimb,
  'assist-response': rideStarts,
  heating: rideHeating,
  battery: rideLoadSteps,
  'coast-down': rideCoasts,
  stand: spinWheel,
};
