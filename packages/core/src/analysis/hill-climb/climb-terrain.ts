import type { CleanLog } from '../../logs/index.js';
import { derivationNumber as num, fromLimit, type Warn } from '../figure.js';
import type { AltitudeProfile } from '../range/climbing.js';
import type { Put } from './put-figure.js';

const STEEP_M = 50;

/** Steepest 50 m by the smoothed profile. */
export function addSteepest(profile: AltitudeProfile, lengthM: number, put: Put): void {
  const { distanceM, altitudeM, gradeFraction, gradeStandardError } = profile;
  if (lengthM < 2 * STEEP_M) return;
  let best = { grade: -Infinity, error: 0 };
  const apart: { grade: number; error: number }[] = [];
  let lastApartM = -Infinity;
  let from = 0;
  for (let to = 0; to < distanceM.length; to++) {
    while (distanceM[to]! - distanceM[from + 1]! >= STEEP_M) from++;
    const way = distanceM[to]! - distanceM[from]!;
    const grade = (altitudeM[to]! - altitudeM[from]!) / way;
    const error = gradeStandardError[(from + to) >> 1]!;
    // Where the readings lie too far apart nothing tells how far the line may be off.
    if (way < STEEP_M || !Number.isFinite(error)) continue;
    if (grade > best.grade) best = { grade, error };
    if (distanceM[to]! - lastApartM < STEEP_M) continue;
    lastApartM = distanceM[to]!;
    apart.push({ grade, error });
  }
  if (!Number.isFinite(best.grade)) return;
  const meanOfGrades = gradeFraction.reduce((sum, one) => sum + one, 0) / gradeFraction.length;
  // Of n spans that are as steep but for the scatter, the one that looks steepest lies up to σ·√(2 ln n) too high.
  const alike = apart.filter(({ grade, error }) => best.grade - grade < 3 * Math.hypot(error, best.error)).length;
  const choice = best.error * Math.sqrt(2 * Math.log(Math.max(1, alike)));
  const value = 100 * (best.grade - choice / 2);
  put({
    key: 'maxGrade',
    label: 'Steepest 50 m',
    value,
    unit: '%',
    contributions: [
      { source: 'scatter of the altitude', standardUncertainty: 100 * best.error },
      { source: 'choice of the steepest', standardUncertainty: fromLimit(100 * (choice / 2)) },
      // Smoothing over as long a span takes a little off what sticks out.
      { source: 'smoothing', standardUncertainty: fromLimit(10 * Math.abs(best.grade - choice / 2 - meanOfGrades)) },
    ],
    formula: 'greatest rise over 50 m of the altitude smoothed over 50 m, less half of what choosing it may add',
    substituted: `${num(100 * best.grade)} % − ${num(50 * choice)} %`,
    inputs: ['altitude', 'distance'],
  });
}

/** Standing or walking pace on the climb: it stalled, or the rider had to push. */
const PUSHING_MPS = 1.6;
const MIN_PUSH_S = 4;

export function warnOfStalls(log: CleanLog, warn: Warn): void {
  const { speed } = log.channels;
  if (!speed) return;
  let from = -1;
  let pushed = 0;
  let slowSpans = 0;
  for (let k = 0; k <= speed.length; k++) {
    if (k < speed.length && (Number.isNaN(speed[k]!) || speed[k]! < PUSHING_MPS)) {
      if (from < 0 && !Number.isNaN(speed[k]!)) from = k;
      continue;
    }
    if (from >= 0 && log.timeS[k - 1]! - log.timeS[from]! >= MIN_PUSH_S) {
      pushed += log.timeS[k - 1]! - log.timeS[from]!;
      slowSpans++;
    }
    from = -1;
  }
  if (slowSpans > 0)
    warn(
      'stalled',
      `On the climb the bike stood or went at walking pace ${slowSpans === 1 ? 'once' : `${slowSpans} times`}, ${num(Math.round(pushed))} s in all: it stalled, or the rider pushed.`,
    );
}
