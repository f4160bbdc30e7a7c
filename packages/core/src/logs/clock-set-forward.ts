import type { ChannelColumns } from './channels.js';
import { haversineM } from './haversine.js';
import type { ClockStep } from './repair-clock.js';

/** Riding on both sides of a step, m/s; a bike that stood may have been switched off. */
const RIDING_MPS = 2;
const SAME_SPEED_MPS = 2.5;
const LEAST_JUMP_S = 60;
const HOUR_S = 3600;
/** Nobody pauses at full speed for this long and goes on at the same. */
const NO_PAUSE_S = 12 * HOUR_S;
/** Where the way goes on by no more than two usual steps, the step of its counter or the noise of its positions, no time went by. */
const USUAL_STEPS = 2;
const POSITION_NOISE_M = 10;

/**
 * Steps forward in which no time went by: the clock was set in full ride. It was, where the bike rides at the same speed before and
 * after, and its distance or position goes on without a jump; or the step is a whole hour (summer time) or longer than any pause.
 * Shapes: times increasing, channels of the same length; s, m/s, m. The times after each are moved back, in place.
 */
export function undoForwardJumps(
  timeS: Float64Array,
  { speed, distance, latitude, longitude }: ChannelColumns,
  usualStepS: number,
): ClockStep[] {
  const steps: ClockStep[] = [];
  let shift = 0;
  for (let k = 1; k < timeS.length; k++) {
    timeS[k]! += shift;
    const step = timeS[k]! - timeS[k - 1]!;
    if (step <= Math.max(LEAST_JUMP_S, 10 * usualStepS)) continue;
    const before = usable(speed, k - 1, -1);
    const after = usable(speed, k, 1);
    const isRiding =
      before !== undefined &&
      after !== undefined &&
      Math.min(before, after) > RIDING_MPS &&
      Math.abs(before - after) < SAME_SPEED_MPS;
    if (speed && !isRiding) continue;
    const metres = wayBetween(k, distance, latitude, longitude);
    const slackM = distance ? counterStep(distance) : POSITION_NOISE_M;
    const byUsualStep = USUAL_STEPS * usualStepS * Math.max(before ?? 0, after ?? 0) + slackM;
    const goesOn = isRiding && metres !== undefined && metres <= byUsualStep;
    const isWholeHour =
      isRiding && metres === undefined && Math.abs(step - usualStepS - HOUR_S) <= Math.max(2, usualStepS);
    if (!goesOn && !isWholeHour && !(isRiding && step > NO_PAUSE_S)) continue;
    const forwardS = step - usualStepS;
    shift -= forwardS;
    timeS[k]! -= forwardS;
    steps.push({ atS: timeS[k]!, backS: -forwardS });
  }
  return steps;
}

/** The step in which a distance is counted, m; never less than two metres. */
function counterStep(distance: Float64Array): number {
  const steps: number[] = [];
  for (let k = 1; k < distance.length && steps.length < 2000; k++) {
    const step = distance[k]! - distance[k - 1]!;
    if (step > 0) steps.push(step);
  }
  return Math.max(2, steps.sort((a, b) => a - b)[Math.floor(0.05 * steps.length)] ?? 0);
}

/** The nearest of a few values from `k` on that is there. */
function usable(column: Float64Array | undefined, k: number, direction: 1 | -1): number | undefined {
  for (let j = k, seen = 0; column && j >= 0 && j < column.length && seen < 4; j += direction, seen++)
    if (!Number.isNaN(column[j]!)) return column[j]!;
  return undefined;
}

function wayBetween(
  k: number,
  distance: Float64Array | undefined,
  latitude: Float64Array | undefined,
  longitude: Float64Array | undefined,
): number | undefined {
  if (distance) {
    const way = distance[k]! - distance[k - 1]!;
    if (!Number.isNaN(way)) return Math.abs(way);
  }
  if (!latitude || !longitude) return undefined;
  const way = haversineM(latitude[k - 1]!, longitude[k - 1]!, latitude[k]!, longitude[k]!);
  return Number.isNaN(way) ? undefined : way;
}
