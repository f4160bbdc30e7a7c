/** Where a clock was set back, and by how much. */
export interface ClockStep {
  /** Seconds of the mended clock. */
  readonly atS: number;
  readonly backS: number;
}

/** A jump back that so many samples follow is a clock that was set, not a sample that came late. */
const FOLLOWED_BY = 5;
const MIN_BACK_S = 1;
const STEPS_BACK = 5;

/**
 * A clock that is set back while the logger goes on: the times after it are moved on, one usual step after the last, so that
 * nothing that was ridden twice by the clock is lost. Single samples out of order are left as they are.
 *
 * Shapes: `timeS` of any length, NaN where a time is missing. Units: s. Returns the same array where nothing was set back.
 */
export function repairClock(timeS: Float64Array, usualStepS: number): { timeS: Float64Array; steps: ClockStep[] } {
  const steps: ClockStep[] = [];
  let repaired: Float64Array | undefined;
  let shift = 0;
  let last = -1;
  const limit = Math.max(MIN_BACK_S, STEPS_BACK * usualStepS);
  for (let k = 0; k < timeS.length; k++) {
    if (Number.isNaN(timeS[k]!)) continue;
    if (
      last >= 0 &&
      timeS[last]! - timeS[k]! > limit &&
      cameTo(timeS, last, limit) &&
      goesOnFrom(timeS, k, timeS[last]!, limit)
    ) {
      const backS = timeS[last]! - timeS[k]!;
      shift += backS + usualStepS;
      steps.push({ atS: timeS[k]! + shift, backS });
    }
    if (shift > 0) {
      repaired ??= timeS.slice();
      repaired[k] = timeS[k]! + shift;
    }
    last = k;
  }
  return { timeS: repaired ?? timeS, steps };
}

/** Whether the clock came to `k` by ordinary steps: one wild time, from which the next steps back, was no clock. */
function cameTo(timeS: Float64Array, k: number, limit: number): boolean {
  let after = timeS[k]!;
  let seen = 0;
  for (let j = k - 1; j >= 0 && seen < FOLLOWED_BY; j--) {
    if (Number.isNaN(timeS[j]!)) continue;
    const step = after - timeS[j]!;
    if (!(step >= 0) || step > limit) return false;
    after = timeS[j]!;
    seen++;
  }
  return seen > 0;
}

/** Whether the samples from `k` on go forward by ordinary steps and stay before the time that the clock had reached. */
function goesOnFrom(timeS: Float64Array, k: number, reachedS: number, limit: number): boolean {
  let before = timeS[k]!;
  let seen = 0;
  for (let j = k + 1; j < timeS.length && seen < FOLLOWED_BY; j++) {
    if (Number.isNaN(timeS[j]!)) continue;
    const step = timeS[j]! - before;
    if (!(step > 0) || step > limit || timeS[j]! > reachedS) return false;
    before = timeS[j]!;
    seen++;
  }
  return seen === FOLLOWED_BY;
}
