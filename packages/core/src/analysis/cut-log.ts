import { CHANNEL_NAMES, sliceMotion, type ChannelColumns, type CleanLog } from '../logs/index.js';
import type { Warn } from './figure.js';
import { firstAtOrAfter } from '../numeric/index.js';
import { amount, say } from '../units/index.js';
import { gatePasses } from './gate-passes.js';
import { rideDistance, type RideDistance } from './range/ride-distance.js';
import type { CourseKnowledge, TestContext } from './test-context.js';

export interface CutLog {
  readonly log: CleanLog;
  /** What the cut found: `whole` nothing to cut, `cut` done, `not-reached` a gate was not met, `empty` the span holds nothing. */
  readonly state: 'whole' | 'cut' | 'not-reached' | 'no-distance' | 'empty';
  /** How surely positions say where the gates were met, m (a standard deviation); absent where the distance does. */
  readonly byPositionM?: number;
  /** The log has positions, and they do not lie on its course. */
  readonly isElsewhere?: boolean;
  /** Ridden between the gates, and in the log before and after them, m. */
  readonly riddenM?: { readonly between: number; readonly beyond: number };
}

const MIN_SAMPLES = 5;

/** Samples [from, to] of a log. Times stay those of the whole log, so that a figure still points to its place in it. */
export function sliceLog(log: CleanLog, from: number, to: number): CleanLog {
  const channels: ChannelColumns = Object.fromEntries(
    CHANNEL_NAMES.flatMap((name) => {
      const column = log.channels[name];
      return column ? [[name, column.subarray(from, to + 1)]] : [];
    }),
  );
  const timeS = log.timeS.subarray(from, to + 1);
  const [startS, endS] = [timeS[0]!, timeS.at(-1)!];
  const gaps = log.report.gaps.filter((gap) => gap.startS >= startS && gap.endS <= endS);
  const stuck = log.report.stuck.filter((one) => one.endS >= startS && one.startS <= endS);
  return {
    ...log,
    timeS,
    channels,
    ...(log.motion && { motion: sliceMotion(log.motion, startS, endS) }),
    report: { ...log.report, gaps, stuck },
  };
}

/** The part of a log from one time to another; undefined where fewer than five samples lie between them. */
export function sliceByTime(log: CleanLog, fromS: number, toS: number): CleanLog | undefined {
  const from = firstAtOrAfter(log.timeS, fromS - 1e-6);
  const to = Math.min(log.timeS.length, firstAtOrAfter(log.timeS, toS + 1e-6)) - 1;
  return to - from < MIN_SAMPLES ? undefined : sliceLog(log, from, to);
}

/**
 * The part of a log between the gates of its course: from the first pass of the start gate to the last pass of the finish gate (on a
 * loop, after whole laps). Where log and course have positions, these say when the gates were met; else distances count from the
 * course's first point, where the log is taken to begin.
 */
export function cutAtGates(log: CleanLog, course: CourseKnowledge | undefined): CutLog {
  if (!course || course.isWhole) return { log, state: 'whole' };
  const distance = rideDistance(log);
  if (!distance) return { log, state: 'no-distance' };
  const passes = gatePasses(log, course, distance);
  if (passes === 'not-passed') return { log, state: 'not-reached' };
  if (passes === undefined || passes === 'elsewhere')
    return { ...cutByDistance(log, course, distance), ...(passes && { isElsewhere: true }) };
  const from = firstAtOrAfter(log.timeS, passes.fromS);
  const to = Math.min(log.timeS.length - 1, firstAtOrAfter(log.timeS, passes.toS));
  if (to - from < MIN_SAMPLES) return { log, state: 'not-reached' };
  return { ...sliced(log, distance, from, to), byPositionM: passes.unsureM };
}

function sliced(log: CleanLog, { cumulativeM }: RideDistance, from: number, to: number): CutLog {
  const between = cumulativeM[to]! - cumulativeM[from]!;
  const beyond = cumulativeM.at(-1)! - cumulativeM[0]! - between;
  return { log: sliceLog(log, from, to), state: 'cut', riddenM: { between, beyond } };
}

function cutByDistance(log: CleanLog, course: CourseKnowledge, distance: RideDistance): CutLog {
  const { cumulativeM } = distance;
  const last = cumulativeM.at(-1)!;
  if (last < course.finishM) return { log, state: 'not-reached' };
  const laps = course.isLoop ? Math.floor((last - course.finishM) / course.lengthM) : 0;
  const finishM = course.finishM + laps * course.lengthM;
  const from = cumulativeM.findIndex((d) => d >= course.startM);
  let to = cumulativeM.findIndex((d) => d >= finishM);
  if (to < 0) to = cumulativeM.length - 1;
  if (to - from < MIN_SAMPLES) return { log, state: 'not-reached' };
  return sliced(log, distance, from, to);
}

/** A way to the course and home again is no doubt about it; this many times what counts, and this far, may be another course's ride. */
const MUCH_BEYOND = 5;
const FAR_BEYOND_M = 5000;

/** Says what a cut could not do, or left away: figures of a whole log are no figures of the part between its gates. */
export function warnOfCut({ state, isElsewhere, riddenM }: CutLog, warn: Warn): void {
  if (riddenM && riddenM.beyond > Math.max(FAR_BEYOND_M, MUCH_BEYOND * riddenM.between))
    warn(
      'much-beyond-gates',
      say`Only ${amount(riddenM.between / 1000, 'km', 3)} of this log lie between the gates of its course and count; ${amount(riddenM.beyond / 1000, 'km', 3)} lie before and after them. Is it the right course?`,
    );
  if (isElsewhere)
    warn(
      'positions-elsewhere',
      'The positions of the log do not lie on its course: the gates are taken by the distance from where the log begins. Is it the right course?',
    );
  switch (state) {
    case 'empty':
      return warn(
        'span-empty',
        'The chosen part holds fewer than five samples of this log: there are no figures of it.',
      );
    case 'not-reached':
      return warn(
        'gates-not-reached',
        'The ride does not go from the start gate to the finish gate of its course: the figures are those of the whole log.',
      );
    case 'no-distance':
      return warn(
        'gates-without-distance',
        'The log has no distance, so it cannot be cut at the gates: the figures are those of the whole log.',
      );
    case 'cut':
    case 'whole':
  }
}

/** What is analysed of a log: its span, and of that the part a tester set as the ride, else the part between the gates. */
export function cutForTest(log: CleanLog, context: TestContext): CutLog {
  const { logSpan, course, spans } = context;
  const own = logSpan && log.hasClock ? sliceByTime(log, logSpan.fromS, logSpan.toS) : log;
  const ride = spans?.find(({ kind }) => kind === 'ride');
  if (!own) return { log, state: 'empty' };
  if (ride && log.hasClock) {
    const set = sliceByTime(own, ride.fromS, ride.toS);
    return set ? { log: set, state: 'cut' } : { log: own, state: 'empty' };
  }
  return cutAtGates(own, course);
}
