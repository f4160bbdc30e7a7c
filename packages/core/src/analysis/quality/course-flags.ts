import { say, type Sentence } from '../../units/index.js';
import type { CleanLog } from '../../logs/index.js';
import { DEFAULT_INSTRUMENT } from '../instrument.js';
import { derivationNumber as num, derivationQuantity as qty, fromLimit } from '../figure.js';
import { smoothProfile } from '../range/climbing.js';
import { rideDistance } from '../range/ride-distance.js';
import type { CourseKnowledge, TestContext } from '../test-context.js';

const SAME_WAY = 0.1;

/** Whether a way ridden is that from gate to gate, so that the course's climb is the ride's. */
export function isWayOf({ startM, finishM }: CourseKnowledge, distanceM: number): boolean {
  return Math.abs(distanceM / Math.abs(finishM - startM) - 1) <= SAME_WAY;
}

/** How the logged climb and the course's differ, as a sentence; undefined where they agree or one is not known. */
export function climbsFarFromCourse(log: CleanLog, { course, instrument }: TestContext): Sentence | undefined {
  const { altitude } = log.channels;
  if (course?.gainM === undefined || !altitude) return undefined;
  const distance = rideDistance(log);
  const profile = distance && smoothProfile(distance.cumulativeM, altitude);
  if (!distance || !profile || !(distance.distanceM > 0)) return undefined;
  // Another way than from gate to gate is not what the course speaks of: several laps, or a part of it.
  if (!isWayOf(course, distance.distanceM)) return undefined;
  const logged = profile.altitudeM.at(-1)! - profile.altitudeM[0]!;
  const u = Math.hypot(
    Math.SQRT2 * fromLimit(instrument?.altitudeM ?? DEFAULT_INSTRUMENT.altitudeM),
    course.gainUncertaintyM ?? 1,
    // A barometer drifts with the weather by a metre or two over an hour.
    1,
  );
  if (Math.abs(logged - course.gainM) <= 2 * u) return undefined;
  const percent = (gain: number): string => `${num(Number(((100 * gain) / distance.distanceM).toFixed(1)))} %`;
  return say`The log rises ${qty(Number(logged.toFixed(1)), 'm')} (${percent(logged)}), the course says ${qty(Number(course.gainM.toFixed(1)), 'm')} (${percent(course.gainM)}): a different route, or the profile is wrong.`;
}
