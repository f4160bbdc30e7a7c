import type { CleanLog } from '../../logs/index.js';
import { gapJudge } from './gap-share.js';
import type { RideDistance } from './ride-distance.js';

/** Below this the bike stands: walking pace is 1 m/s. */
export const STANDING_MPS = 0.5;
/** Positions tell moving from standing only over some seconds. */
const DISPLACEMENT_S = 5;

export interface MovingTime {
  readonly movingS: number;
  /** What errs the same way throughout: gaps, stops hidden between the steps of a counter, the seconds a position needs. */
  readonly limitS: number;
  /** Standard uncertainty of starts and stops seen late. */
  readonly edgesS: number;
}

/** Time in which the bike moved, s: by speed, by its positions, or by how soon the next step of a counter of distance comes. */
export function movingTime(log: CleanLog, distance: RideDistance): MovingTime {
  const { channels, report } = log;
  if (!channels.speed && distance.source === 'wheel distance') {
    const ticks = ticksOf(log.timeS, distance.cumulativeM);
    if (ticks && ticks.stepM > 0.5 * ticks.paceMps * report.medianStepS) return byTicks(log, ticks);
  }
  return bySamples(log, distance);
}

function bySamples({ timeS, channels, report }: CleanLog, distance: RideDistance): MovingTime {
  const { speed } = channels;
  const { track } = distance;
  const judge = gapJudge({ timeS, channels });
  const isByPosition = distance.source === 'positions';
  let [movingS, limitS, crossings, stops, last] = [0, 0, 0, 0, -1];
  let wasMoving = false;
  for (let k = 1; k < timeS.length; k++) {
    if (speed && Number.isNaN(speed[k]!)) continue;
    const from = last < 0 ? k - 1 : last;
    const step = timeS[k]! - timeS[from]!;
    last = k;
    if (step > report.gapLimitS) {
      // How much of a gap was ridden is not the log's to say: what is known of it is.
      const { least, most } = judge({ startS: timeS[from]!, endS: timeS[k]! });
      movingS += (step * (least + most)) / 2;
      limitS += (step * (most - least)) / 2;
      wasMoving = true;
      continue;
    }
    const isMoving = speed
      ? (speed[k]! + (Number.isNaN(speed[from]!) ? speed[k]! : speed[from]!)) / 2 > STANDING_MPS
      : track
        ? track.isMoving[k] === 1
        : (distance.cumulativeM[k]! - distance.cumulativeM[from]!) / step > STANDING_MPS;
    if (isMoving) movingS += step;
    if (isMoving !== wasMoving) crossings++;
    if (wasMoving && !isMoving) stops++;
    wasMoving = isMoving;
  }
  // A start and a stop are found within the window that a position needs, and short stops not at all.
  const windowS = isByPosition
    ? Math.max(DISPLACEMENT_S, track?.windowS ?? 0, report.medianStepS)
    : Math.max(report.medianStepS, report.isHeld ? HELD_S : 0);
  if (isByPosition) limitS += (stops + 1) * windowS * WINDOW_PART;
  return { movingS, limitS, edgesS: (windowS / Math.sqrt(6)) * Math.sqrt(crossings) };
}
/** A row that came on a change tells when it changed only to its own step. */
const HELD_S = 1;
/** Of the window of positions, what each stop may be seen too short by. */
const WINDOW_PART = 0.3;

interface Ticks {
  readonly atS: readonly number[];
  readonly stepsM: readonly number[];
  readonly stepM: number;
  readonly paceMps: number;
}
/** When a counter of distance went on. */
function ticksOf(timeS: Float64Array, cumulativeM: Float64Array): Ticks | undefined {
  const atS: number[] = [];
  const stepsM: number[] = [];
  for (let k = 1; k < timeS.length; k++) {
    const step = cumulativeM[k]! - cumulativeM[k - 1]!;
    if (!(step > 0)) continue;
    atS.push(timeS[k]!);
    stepsM.push(step);
  }
  if (atS.length < 8) return undefined;
  const stepM = [...stepsM].sort((a, b) => a - b)[stepsM.length >> 1]!;
  const paces = atS
    .slice(1)
    .map((t, k) => stepsM[k + 1]! / (t - atS[k]!))
    .sort((a, b) => a - b);
  // Stops only ever slow a step down: the usual pace is in the upper part.
  return { atS, stepsM, stepM, paceMps: paces[Math.floor(0.6 * paces.length)]! };
}

/** A step that takes this much longer than usual may hold a stop. */
const MAY_HOLD_STOP = 1.3;
/** How hard bikes brake and start, m/s²: within this lies the time a step with one stop in it takes. */
const GENTLE_MPS2 = 0.6;
const HARD_MPS2 = 2;
/** Time in motion of a step of the counter with one stop in it, s. */
function withStop(stepM: number, paceMps: number, accelerationMps2: number): number {
  return stepM > paceMps ** 2 / accelerationMps2
    ? stepM / paceMps + paceMps / accelerationMps2
    : Math.sqrt((4 * stepM) / accelerationMps2);
}
function byTicks({ timeS, report }: CleanLog, { atS, stepsM, paceMps, stepM }: Ticks): MovingTime {
  const usualS = stepM / paceMps;
  // Before the first step and after the last one something less than a step was ridden.
  const ends = [atS[0]! - timeS[0]!, timeS.at(-1)! - atS.at(-1)!].map((seconds) => Math.min(seconds, usualS));
  let movingS = (ends[0]! + ends[1]!) / 2;
  let limitS = (ends[0]! + ends[1]!) / 2;
  for (let k = 1; k < atS.length; k++) {
    const seconds = atS[k]! - atS[k - 1]!;
    const usual = stepsM[k]! / paceMps;
    const least = Math.min(
      seconds,
      Math.max(MAY_HOLD_STOP * usual + report.medianStepS, withStop(stepsM[k]!, paceMps, HARD_MPS2)),
    );
    const most = Math.max(least, Math.min(seconds, withStop(stepsM[k]!, paceMps, GENTLE_MPS2) + report.medianStepS));
    movingS += (least + most) / 2;
    limitS += (most - least) / 2;
  }
  return { movingS, limitS, edgesS: usualS / Math.sqrt(6) };
}
