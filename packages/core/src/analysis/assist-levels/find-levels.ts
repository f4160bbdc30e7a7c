import type { CleanLog } from '../../logs/index.js';
import { fitLocalLines } from '../../signal/index.js';
import { givenSpans } from '../findings.js';
import { firstAtOrAfter } from '../../numeric/index.js';
import { meanOfSpan } from '../uneven-scatter.js';

/** Slower change than this counts as steady, m/s². */
const STEADY_MPS2 = 0.05;
export const MIN_STEADY_S = 30;
/** More of the steady end is not needed, and the speed may still creep before it. */
const MAX_STEADY_S = 90;
const SLOPE_WINDOW_S = 10;
/** First and last sample of a level's steady window; `isSteady` is false where it was not held steady long enough. */
export interface LevelWindow {
  readonly level: number;
  readonly from: number;
  readonly to: number;
  readonly isSteady: boolean;
}

/**
 * The steady window of each level, by level: of the log's spans at one level the longest, of that the last part (30 to 90 s)
 * over which the speed, fitted by local lines of 10 s, changes by less than 0.05 m/s², without a beginning that still
 * differs from the rest. Windows that a tester set are taken as they are.
 */
export function findLevels(
  { timeS, channels: { assistLevel } }: CleanLog,
  speed: Float64Array,
  given: ReturnType<typeof givenSpans>,
): LevelWindow[] {
  if (given) return longestOfEach(named(given, assistLevel)).map((span) => ({ ...span, isSteady: true }));
  return longestOfEach(spansOf(assistLevel!)).map((span) => {
    const end = steadyEnd(timeS, speed, span.from, span.to);
    if (!end) return { ...span, isSteady: false };
    const [from, to] = settledPart(timeS, speed, end);
    return { level: span.level, from, to, isSteady: true };
  });
}

interface LevelSpan {
  readonly level: number;
  readonly from: number;
  readonly to: number;
}

function spansOf(assistLevel: Float64Array): LevelSpan[] {
  const spans: { level: number; from: number; to: number }[] = [];
  for (let k = 0; k < assistLevel.length; k++) {
    const level = assistLevel[k]!;
    if (Number.isNaN(level)) continue;
    const last = spans.at(-1);
    if (last && last.level === level) last.to = k;
    else spans.push({ level, from: k, to: k });
  }
  return spans;
}

/** The level that a tester gave a span, else that the log shows in its middle; without either it cannot be named. */
function named(
  given: readonly { readonly level?: number; readonly from: number; readonly to: number }[],
  assistLevel: Float64Array | undefined,
): LevelSpan[] {
  return given.flatMap(({ level, from, to }) => {
    const known = level ?? assistLevel?.[(from + to) >> 1] ?? NaN;
    return Number.isFinite(known) ? [{ level: known, from, to }] : [];
  });
}

/** A level ridden several times counts where it was held longest. */
function longestOfEach(spans: readonly LevelSpan[]): LevelSpan[] {
  const best = new Map<number, LevelSpan>();
  for (const logSpan of spans) {
    const known = best.get(logSpan.level);
    if (!known || logSpan.to - logSpan.from > known.to - known.from) best.set(logSpan.level, logSpan);
  }
  return [...best.values()].sort((a, b) => a.level - b.level);
}

/** Parts of a window this many standard errors apart are not the same: the window has not settled. */
const APART_ERRORS = 2;

/** The window without its beginning, as long as that differs from the rest and 30 s are left. */
function settledPart(timeS: Float64Array, speed: Float64Array, [from, to]: [number, number]): [number, number] {
  let first = from;
  for (;;) {
    const middle = firstAtOrAfter(timeS, (timeS[first]! + timeS[to]!) / 2);
    if (timeS[to]! - timeS[middle]! < MIN_STEADY_S) return [first, to];
    const [before, after] = [meanOfSpan(speed.subarray(first, middle)), meanOfSpan(speed.subarray(middle, to + 1))];
    if (!before || !after) return [first, to];
    if (Math.abs(before.mean - after.mean) < APART_ERRORS * Math.hypot(before.standardError, after.standardError))
      return [first, to];
    first = firstAtOrAfter(timeS, timeS[first]! + 5);
  }
}

/** First and last sample of the steady end of a span. */
function steadyEnd(timeS: Float64Array, speed: Float64Array, from: number, to: number): [number, number] | undefined {
  const kept: number[] = [];
  for (let k = from; k <= to; k++) if (!Number.isNaN(speed[k]!)) kept.push(k);
  if (kept.length < 5) return undefined;
  const { slope } = fitLocalLines(
    kept.map((k) => timeS[k]!),
    kept.map((k) => speed[k]!),
    SLOPE_WINDOW_S,
  );
  const end = timeS[kept.at(-1)!]!;
  // Within half a window of an end the line leans on one side only: the last full window speaks for it.
  let first = kept.length - 1;
  while (first > 0 && end - timeS[kept[first]!]! < MAX_STEADY_S) {
    const isEdge = end - timeS[kept[first]!]! < SLOPE_WINDOW_S / 2;
    if (!isEdge && Math.abs(slope[first]!) >= STEADY_MPS2) break;
    first--;
  }
  return end - timeS[kept[first]!]! >= MIN_STEADY_S ? [kept[first]!, kept.at(-1)!] : undefined;
}
