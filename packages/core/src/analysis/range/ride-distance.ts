import { trackLength, type CleanLog, type TrackLength } from '../../logs/index.js';
import { atShare, oncePer } from '../../numeric/index.js';
import { gapJudge } from './gap-share.js';
import { integrateOverRide } from './ride-integrals.js';

export interface RideDistance {
  readonly distanceM: number;
  readonly source: 'wheel distance' | 'speed over time' | 'positions';
  /** Distance at each sample, for gradients and charts; missing samples hold the last value. */
  readonly cumulativeM: Float64Array;
  readonly acrossGapsM: number;
  readonly uncertaintyAcrossGapsM: number;
  readonly samples: number;
  /** The step in which a wheel distance is counted, m. */
  readonly stepM?: number;
  /** Of a distance by positions. */
  readonly track?: TrackLength;
}

/** Above this between two samples a cumulative distance was tampered with or reset, not ridden. */
const MAX_SPEED_MPS = 45;

/** Distance ridden: wheel distance first, else speed over time, else positions. Undefined when there is none of them. */
export const rideDistance = oncePer(findDistance);

function findDistance({ timeS, channels, hasClock, report }: CleanLog): RideDistance | undefined {
  const { distance, speed } = channels;
  if (distance) {
    const { cumulativeM, samples } = accumulate(
      timeS,
      (k, last) => {
        const step = distance[k]! - distance[last]!;
        // A reset display starts again at zero; noise may step back a little.
        if (step < -50)
          return Math.max(0, distance[k]!) < MAX_SPEED_MPS * (timeS[k]! - timeS[last]!) ? Math.max(0, distance[k]!) : 0;
        return step > MAX_SPEED_MPS * (timeS[k]! - timeS[last]!) + 100 ? 0 : step;
      },
      (k) => !Number.isNaN(distance[k]!),
    );
    const stepM = countingStep(distance);
    // A counter that begins at nothing shows whole steps only: of the last one half is ridden, on the average.
    const unseenM = distance.find((d) => !Number.isNaN(d)) === 0 ? stepM / 2 : 0;
    if (samples > 1)
      return {
        distanceM: cumulativeM.at(-1)! > 0 ? cumulativeM.at(-1)! + unseenM : 0,
        source: 'wheel distance',
        cumulativeM,
        acrossGapsM: 0,
        uncertaintyAcrossGapsM: 0,
        samples,
        stepM,
      };
  }
  if (speed && hasClock) {
    const across = { judge: gapJudge({ timeS, channels }), standing: 0, standingLimit: 0 };
    const whole = integrateOverRide(timeS, speed, report.gapLimitS, across);
    const { cumulativeM } = accumulate(
      timeS,
      (k, last) => {
        const step = timeS[k]! - timeS[last]!;
        return step > report.gapLimitS ? 0 : ((speed[k]! + speed[last]!) / 2) * step;
      },
      (k) => !Number.isNaN(speed[k]!),
    );
    if (whole.samples > 1)
      return {
        distanceM: whole.measured + whole.acrossGaps,
        source: 'speed over time',
        cumulativeM,
        acrossGapsM: whole.acrossGaps,
        uncertaintyAcrossGapsM: whole.uncertaintyAcrossGaps,
        samples: whole.samples,
      };
  }
  const track = trackLength(timeS, channels, hasClock);
  if (!track) return undefined;
  return {
    distanceM: track.cumulativeM.at(-1)!,
    source: 'positions',
    cumulativeM: track.cumulativeM,
    acrossGapsM: 0,
    uncertaintyAcrossGapsM: 0,
    samples: track.samples,
    track,
  };
}

/** Of the samples between the first and the last step, so many stand where a counter waits for its next one. */
const WAITING_SHARE = 0.25;
const EVEN = 1.6;
/** The step in which a distance is counted, m, where it is coarser than the way between samples; else 0. */
function countingStep(distance: Float64Array): number {
  const steps: number[] = [];
  let waiting = 0;
  let held = 0;
  for (let k = 1; k < distance.length; k++) {
    const step = distance[k]! - distance[k - 1]!;
    if (step > 0) {
      steps.push(step);
      waiting += held;
      held = 0;
    } else if (step === 0 && steps.length > 0) held++;
  }
  if (steps.length < 8 || waiting < WAITING_SHARE * (waiting + steps.length)) return 0;
  const known = Float64Array.from(steps);
  return atShare(known, 0.9)! < EVEN * atShare(known, 0.1)! ? atShare(known, 0.5)! : 0;
}

function accumulate(
  timeS: Float64Array,
  step: (k: number, last: number) => number,
  isUsable: (k: number) => boolean,
): { cumulativeM: Float64Array; samples: number } {
  const cumulativeM = new Float64Array(timeS.length);
  let total = 0;
  let last = -1;
  let samples = 0;
  for (let k = 0; k < timeS.length; k++) {
    if (isUsable(k)) {
      samples++;
      if (last >= 0) total += step(k, last);
      last = k;
    }
    cumulativeM[k] = total;
  }
  return { cumulativeM, samples };
}
