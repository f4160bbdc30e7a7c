import type { CleanLog } from '../logs/index.js';
import type { UnitName } from '../units/index.js';
import { firstAtOrAfter, toDigits } from '../numeric/index.js';

/**
 * What a span of a log was found to be. `ride` is the part that is timed or summed; `fit` the part a curve is fitted to;
 * a `pass` or a `level` its steady window; a `start` lasts from the first pedalling to the last.
 */
export const SPAN_KINDS = [
  'ride',
  'pass',
  'coast',
  'level',
  'start',
  'fit',
  'no-load',
  'spin-down',
  'stop',
  'load',
  'soak',
  'cool-down',
] as const;
export type SpanKind = (typeof SPAN_KINDS)[number];

/** A span of the log that figures rest on, as the program found it or as a tester set it. Times in s of the log. */
export interface Span {
  readonly kind: SpanKind;
  readonly fromS: number;
  readonly toS: number;
  readonly label: string;
  readonly direction?: 1 | -1;
  readonly level?: number;
}
export type GivenSpan = Pick<Span, 'direction' | 'fromS' | 'kind' | 'level' | 'toS'>;

/** One curve or set of points of a picture, in the units of its axes. */
export interface ChartSeries {
  readonly label: string;
  readonly drawAs: 'line' | 'points';
  readonly x: readonly number[];
  readonly y: readonly number[];
  /** The curve fitted to the series before it. */
  readonly isFit?: boolean;
  /** Half-width of the 95 % interval of each point. */
  readonly plusMinus?: readonly number[];
}
/** What a tester wants to see of a test: curves on two axes with units, and lines at the values that matter. */
export interface Chart {
  readonly key: string;
  readonly title: string;
  readonly x: { readonly label: string; readonly unit: UnitName; readonly categories?: readonly string[] };
  readonly y: { readonly label: string; readonly unit: UnitName };
  readonly series: readonly ChartSeries[];
  readonly lines: readonly { readonly axis: 'x' | 'y'; readonly at: number; readonly label: string }[];
}
export interface Findings {
  readonly spans: readonly Span[];
  readonly charts: readonly Chart[];
}

/** Points of a curve that a page can draw: more of them are not seen. */
const MAX_POINTS = 300;

/** Samples [from, to] of two columns, thinned evenly, those that are missing left out; six digits are kept. */
export function curveOf(
  x: (k: number) => number,
  y: (k: number) => number,
  from: number,
  to: number,
  mostPoints = MAX_POINTS,
): { x: number[]; y: number[] } {
  const every = Math.max(1, Math.ceil((to - from + 1) / mostPoints));
  const curve: { x: number[]; y: number[] } = { x: [], y: [] };
  for (let k = from; k <= to; k += every) {
    const [a, b] = [x(k), y(k)];
    if (!Number.isFinite(a) || !Number.isFinite(b)) continue;
    curve.x.push(toDigits(a, 6));
    curve.y.push(toDigits(b, 6));
  }
  return curve;
}

/** Spans of one kind that a tester set, as samples of the log; undefined where none was. Those outside the log are left out. */
export function givenSpans(
  log: CleanLog,
  given: readonly GivenSpan[] | undefined,
  kind: SpanKind,
): (GivenSpan & { readonly from: number; readonly to: number })[] | undefined {
  const own = given?.filter((span) => span.kind === kind);
  if (!own || own.length === 0) return undefined;
  return own
    .map((span) => ({
      ...span,
      from: firstAtOrAfter(log.timeS, span.fromS - 1e-6),
      to: firstAtOrAfter(log.timeS, span.toS + 1e-6) - 1,
    }))
    .filter(({ from, to }) => to - from >= 1)
    .sort((a, b) => a.from - b.from);
}

/** Standing below this speed for this long is a stop. */
const STANDING_MPS = 0.5;
const MIN_STOP_S = 3;

/** Where the bike stood for 3 s or more, by the wheel. */
export function findStops({ timeS, channels }: CleanLog): Span[] {
  const { speed } = channels;
  if (!speed) return [];
  const stops: Span[] = [];
  let from = -1;
  let last = -1;
  for (let k = 0; k <= timeS.length; k++) {
    if (k < timeS.length && Number.isNaN(speed[k]!)) continue;
    if (k < timeS.length && speed[k]! < STANDING_MPS) {
      if (from < 0) from = k;
      last = k;
      continue;
    }
    if (from >= 0 && timeS[last]! - timeS[from]! >= MIN_STOP_S)
      stops.push({ kind: 'stop', fromS: timeS[from]!, toS: timeS[last]!, label: `Stop ${stops.length + 1}` });
    from = -1;
  }
  return stops;
}
