import type { TestContext, TestKind } from '../../analysis/index.js';
import type { RideCourse } from '../parameters.js';
import type { RideTrace } from '../ride-trace.js';

/** A simulated test ride with what is true of it, by the keys of its figures and in their units. */
export interface TestRide {
  readonly kind: TestKind;
  readonly trace: RideTrace;
  readonly truth: Readonly<Record<string, number>>;
  /** What a tester would know about it. */
  readonly context: TestContext;
}
export interface TestDay {
  readonly airTemperatureC: number;
  /** Head wind on the way there, m/s. */
  readonly windMps: number;
  /** Rise over way on the way there. */
  readonly slope: number;
  readonly recordHz: number;
  /** Where the hill is climbed; 1 000 m at 6 % where not given. */
  readonly climb?: { readonly course: RideCourse; readonly startM: number; readonly finishM: number };
}

/** What a ride of a kind gives; the kind is added by its caller. */
export type Ridden = Omit<TestRide, 'kind'>;
