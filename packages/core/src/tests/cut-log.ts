import { CHANNEL_NAMES, type ChannelColumns, type CleanLog } from '../logs/index.js';
import { rideDistance } from './range/ride-integrals.js';
import type { CourseKnowledge } from './test-context.js';

export interface CutLog {
  readonly log: CleanLog;
  /** What the cut found: `whole` nothing to cut, `cut` done, `not-reached` the finish gate lies beyond the ride. */
  readonly state: 'whole' | 'cut' | 'not-reached' | 'no-distance';
}

const LEAST_SAMPLES = 5;

/**
 * The part of a log between the gates of its course: from the first pass of the start gate to the last pass of the
 * finish gate (on a loop, after whole laps). Distances count from the course's first point, where the log begins.
 * Times stay those of the whole log, so that a figure still points to its place in it.
 */
export function cutAtGates(log: CleanLog, course: CourseKnowledge | undefined): CutLog {
  if (!course || course.isWhole) return { log, state: 'whole' };
  const distance = rideDistance(log);
  if (!distance) return { log, state: 'no-distance' };
  const { cumulativeM } = distance;
  const last = cumulativeM.at(-1)!;
  if (last < course.finishM) return { log, state: 'not-reached' };
  const laps = course.isLoop ? Math.floor((last - course.finishM) / course.lengthM) : 0;
  const finishM = course.finishM + laps * course.lengthM;
  const from = cumulativeM.findIndex((d) => d >= course.startM);
  let to = cumulativeM.findIndex((d) => d >= finishM);
  if (to < 0) to = cumulativeM.length - 1;
  if (to - from < LEAST_SAMPLES) return { log, state: 'not-reached' };
  const channels: ChannelColumns = Object.fromEntries(
    CHANNEL_NAMES.flatMap((name) => {
      const column = log.channels[name];
      return column ? [[name, column.subarray(from, to + 1)]] : [];
    }),
  );
  const timeS = log.timeS.subarray(from, to + 1);
  const [startS, endS] = [timeS[0]!, timeS.at(-1)!];
  const gaps = log.report.gaps.filter((gap) => gap.startS >= startS && gap.endS <= endS);
  return { log: { ...log, timeS, channels, report: { ...log.report, gaps } }, state: 'cut' };
}
