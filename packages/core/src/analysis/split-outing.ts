import { haversineM, type CleanLog } from '../logs/index.js';
import { findStops } from './findings.js';
import { guessKind, isSteppedLoad, secondsWhere } from './guess-kind.js';
import { rideDistance } from './range/ride-distance.js';
import { sliceByTime } from './cut-log.js';
import type { TestKind } from './test-kinds.js';

/** A span of an outing that looks like a run, for the tester to confirm. Times in s of the log. */
export interface ProposedRun {
  readonly fromS: number;
  readonly toS: number;
  readonly testKind: TestKind;
  /** Why it was cut there and taken for this kind, in words. */
  readonly why: string;
  readonly distanceM: number | null;
  readonly direction: 1 | -1;
}
/** Where the timed part of a course begins and ends, to be met in the log's positions. */
export interface TimingGatePositions {
  readonly start: { readonly latitude: number; readonly longitude: number };
  readonly finish: { readonly latitude: number; readonly longitude: number };
}

/** Standing this long ends a run; shorter stops belong to it (a crossing, a start of the response test). */
const LONG_STOP_S = 20;
/** A logger that was off for this long was switched off between runs. */
const LONG_GAP_S = 60;
const MIN_MOVING_S = 20;
const MIN_WAY_M = 60;
/** Kept of a stop on both sides: the standing start and the rest. */
const KEPT_STANDING_S = 5;
const GATE_REACH_M = 25;
const MOVING_MPS = 0.5;

/**
 * Splits the log of an outing into the runs it seems to hold: at stops of 20 s or more, at gaps of a minute or more, where the
 * clock was set back by as much, at
 * marks (`marksS`, s of the log, and where its lap or mark channel counts on), and, where positions and gates are known, from
 * start gate to finish gate in either direction.
 *
 * Method: the kind is guessed from what a span shows: level changes, coasts without current, standing starts, a climb of
 * 3 % or more, passes with turns between them; else range. It is a proposal: nothing is made of it before a tester confirms.
 */
export function splitOuting(
  log: CleanLog,
  { gates, marksS = [] }: { readonly gates?: TimingGatePositions; readonly marksS?: readonly number[] } = {},
): ProposedRun[] {
  if (!log.hasClock || log.timeS.length < 5) return [];
  const crossed = gates ? betweenGates(log, gates) : [];
  const rest = piecesOf(log, [...marksS, ...marksIn(log)]).flatMap((piece) => without(piece, crossed));
  return [
    ...crossed.map(({ fromS, toS, direction }) =>
      propose(log, fromS, toS, 'From start gate to finish gate', direction),
    ),
    ...rest.map(({ fromS, toS, why }) => propose(log, fromS, toS, why, 1)),
  ]
    .flatMap((run) => run ?? [])
    .sort((a, b) => a.fromS - b.fromS);
}

/** Where the rider pressed the lap button: its count rises, or its signal comes. */
function marksIn({ timeS, channels: { lap } }: CleanLog): number[] {
  if (!lap) return [];
  const marks: number[] = [];
  let last = NaN;
  for (let k = 0; k < lap.length; k++) {
    if (Number.isNaN(lap[k]!)) continue;
    if (lap[k]! > last) marks.push(timeS[k]!);
    last = lap[k]!;
  }
  return marks;
}

interface Piece {
  readonly fromS: number;
  readonly toS: number;
  readonly why: string;
}

function piecesOf(log: CleanLog, marksS: readonly number[]): Piece[] {
  const [startS, endS] = [log.timeS[0]!, log.timeS.at(-1)!];
  const breaks: { fromS: number; toS: number; why: string }[] = [
    ...findStops(log)
      .filter(({ fromS, toS }) => toS - fromS >= LONG_STOP_S)
      .map(({ fromS, toS }) => ({ fromS, toS, why: `a stop of ${Math.round(toS - fromS)} s` })),
    ...log.report.gaps
      .filter((gap) => gap.endS - gap.startS >= LONG_GAP_S)
      .map((gap) => ({ fromS: gap.startS, toS: gap.endS, why: `a gap of ${Math.round(gap.endS - gap.startS)} s` })),
    ...(log.report.clockSteps ?? [])
      .filter(({ backS }) => backS >= LONG_GAP_S)
      .map(({ atS }) => ({ fromS: atS, toS: atS, why: 'the clock being set back' })),
    ...marksS.filter((t) => t > startS && t < endS).map((t) => ({ fromS: t, toS: t, why: 'a mark' })),
  ].sort((a, b) => a.fromS - b.fromS);
  const pieces: Piece[] = [];
  let fromS = startS;
  let after = 'the start of the log';
  for (const one of [...breaks, { fromS: endS, toS: endS, why: 'the end of the log' }]) {
    // Stops and gaps may overlap: what lies inside one that came before is passed already.
    if (one.fromS > fromS) {
      const standing = Math.min(KEPT_STANDING_S, (one.toS - one.fromS) / 2);
      pieces.push({ fromS, toS: one.fromS + standing, why: `Between ${after} and ${one.why}` });
      fromS = Math.max(one.fromS + standing, one.toS - KEPT_STANDING_S);
    } else fromS = Math.max(fromS, one.toS - Math.min(KEPT_STANDING_S, (one.toS - one.fromS) / 2));
    after = one.why;
  }
  return pieces;
}

/** What is left of a piece outside the spans that are spoken for. */
function without(piece: Piece, taken: readonly { fromS: number; toS: number }[]): Piece[] {
  let left: Piece[] = [piece];
  for (const { fromS, toS } of taken)
    left = left.flatMap((one) => {
      if (toS <= one.fromS || fromS >= one.toS) return [one];
      return [
        ...(fromS > one.fromS ? [{ ...one, toS: fromS, why: 'Before the start gate' }] : []),
        ...(toS < one.toS ? [{ ...one, fromS: toS, why: 'After the finish gate' }] : []),
      ];
    });
  return left;
}

/** From the nearest point to one gate to the nearest point to the other, each pass of a gate counted once. */
function betweenGates(log: CleanLog, gates: TimingGatePositions): { fromS: number; toS: number; direction: 1 | -1 }[] {
  const { latitude, longitude } = log.channels;
  if (!latitude || !longitude) return [];
  const passes: { atS: number; gate: 'start' | 'finish' }[] = [];
  for (const gate of ['start', 'finish'] as const) {
    const { latitude: lat, longitude: lon } = gates[gate];
    let nearest: { atS: number; metres: number } | undefined;
    for (let k = 0; k <= latitude.length; k++) {
      const metres = k < latitude.length ? haversineM(latitude[k]!, longitude[k]!, lat, lon) : Infinity;
      if (Number.isNaN(metres)) continue;
      if (metres <= GATE_REACH_M) {
        if (!nearest || metres < nearest.metres) nearest = { atS: log.timeS[k]!, metres };
      } else if (nearest) {
        passes.push({ atS: nearest.atS, gate });
        nearest = undefined;
      }
    }
  }
  passes.sort((a, b) => a.atS - b.atS);
  const runs: { fromS: number; toS: number; direction: 1 | -1 }[] = [];
  for (let k = 1; k < passes.length; k++) {
    const [a, b] = [passes[k - 1]!, passes[k]!];
    if (a.gate === b.gate || runs.at(-1)?.toS === b.atS) continue;
    // A gate that ends one run does not begin the next one by turning at it.
    if (runs.length > 0 && runs.at(-1)!.toS > a.atS) continue;
    runs.push({ fromS: a.atS, toS: b.atS, direction: a.gate === 'start' ? 1 : -1 });
  }
  return runs;
}

function propose(log: CleanLog, fromS: number, toS: number, why: string, direction: 1 | -1): ProposedRun | undefined {
  const part = sliceByTime(log, fromS, toS);
  if (!part) return undefined;
  const distance = rideDistance(part);
  const { speed } = part.channels;
  const movingS = speed ? secondsWhere(part, (k) => speed[k]! > MOVING_MPS) : toS - fromS;
  const distanceM = distance ? distance.cumulativeM.at(-1)! - distance.cumulativeM[0]! : null;
  if (movingS < MIN_MOVING_S && !isSteppedLoad(part)) return undefined;
  if (distanceM !== null && distanceM < MIN_WAY_M && !isSteppedLoad(part)) return undefined;
  const [testKind, seen] = guessKind(part, distanceM);
  // A climb is timed from where it moves; a start or a coast needs the standing about it.
  const [first, last] = testKind === 'hill-climb' && speed ? movingPart(part, speed) : [fromS, toS];
  return { fromS: first, toS: last, testKind, why: `${why}; ${seen}`, distanceM, direction };
}

function movingPart({ timeS }: CleanLog, speed: Float64Array): [number, number] {
  const moves = (v: number): boolean => v > MOVING_MPS;
  return [timeS[speed.findIndex(moves)]!, timeS[speed.findLastIndex(moves)]!];
}
