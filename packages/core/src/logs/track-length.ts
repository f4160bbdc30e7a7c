import { gather, MAD_TO_SD, median } from '../numeric/index.js';
import type { ChannelColumns } from './channels.js';
import { haversineM } from './haversine.js';

/** The way along a track of positions, with its noise taken out. */
export interface TrackLength {
  /** At each sample, m; where there is no position the last value. */
  readonly cumulativeM: Float64Array;
  /** Whether the bike moved in the step that ends at a sample. */
  readonly isMoving: Uint8Array;
  /** What the noise had added while riding and standing, m: taken out. */
  readonly noiseM: number;
  /** Standard uncertainty of that, m. */
  readonly noiseUncertaintyM: number;
  readonly stops: number;
  /** Over which moving was told from standing, s. */
  readonly windowS: number;
  readonly samples: number;
}

/** A bike that displaces itself by less than this stands: phones wander more slowly, walking is faster. */
const STANDING_MPS = 0.8;
const SHORTEST_WINDOW_S = 4;
const LONGEST_WINDOW_S = 14;
/** The window in which noise of so many standard deviations stays below walking pace. */
const SURE = 3;
/** A step of the noise larger than this is the road's own bends. */
const MOST_STEP_NOISE_M = 2;
/** Third differences of noise have between six (slow wander) and ten times (each by itself) the variance of its steps. */
const THIRD_TO_STEP = 7.2;
const NOISE_SHARE_UNCERTAIN = 0.25;
/** What each stop leaves undecided: when it began and ended, times how fast a bike goes then. */
const STOP_EDGE_M = 1.5;
const METRES_PER_DEGREE = 111_194.93;

/**
 * Length of a recorded track. Noise makes each step longer on the average (a way of d seen with noise s across it has the length
 * √(d² + s²)) and lets a standing bike wander: the noise is measured across the track, taken out of each step, and what happens while
 * the bike does not get anywhere counts as standing. Undefined with fewer than 3 positions or without latitude and longitude.
 */
export function trackLength(
  timeS: Float64Array,
  { latitude, longitude }: Pick<ChannelColumns, 'latitude' | 'longitude'>,
  hasClock: boolean,
): TrackLength | undefined {
  if (!latitude || !longitude) return undefined;
  const used: number[] = [];
  for (let k = 0; k < timeS.length; k++) if (!Number.isNaN(latitude[k]! + longitude[k]!)) used.push(k);
  if (used.length < 3) return undefined;
  const origin = used[0]!;
  const eastward = Math.cos((latitude[origin]! * Math.PI) / 180) * METRES_PER_DEGREE;
  const x = gather(longitude, used).map((degrees) => (degrees - longitude[origin]!) * eastward);
  const y = gather(latitude, used).map((degrees) => (degrees - latitude[origin]!) * METRES_PER_DEGREE);
  const t = gather(timeS, used);
  const stepNoise = hasClock ? noiseAcross(x, y) : 0;
  const windowS = windowFor(t, stepNoise);
  const moving = hasClock ? movingSteps(t, x, y, windowS) : new Uint8Array(used.length).fill(1);

  // A line without times was drawn, not recorded: its corners are where they are.
  const cut = hasClock ? cutCorners(x, y, moving, stepNoise) : new Float64Array(used.length);
  const cumulativeM = new Float64Array(timeS.length);
  const isMoving = new Uint8Array(timeS.length);
  let [total, ridingNoise, standingM, stops, cutM] = [0, 0, 0, 0, 0];
  let at = 0;
  for (let j = 0; j < used.length; j++) {
    const k = used[j]!;
    for (; at < k; at++) cumulativeM[at] = total;
    if (j > 0) {
      const from = used[j - 1]!;
      const seen = haversineM(latitude[from]!, longitude[from]!, latitude[k]!, longitude[k]!);
      if (moving[j]) {
        const way = Math.sqrt(Math.max(0, seen * seen - stepNoise * stepNoise));
        total += way + cut[j]!;
        cutM += cut[j]!;
        ridingNoise += seen - way;
        isMoving[k] = 1;
      } else {
        standingM += seen;
        if (moving[j - 1]) stops++;
      }
    }
  }
  for (; at < timeS.length; at++) cumulativeM[at] = total;
  return {
    cumulativeM,
    isMoving,
    noiseM: ridingNoise + standingM,
    noiseUncertaintyM: Math.hypot(NOISE_SHARE_UNCERTAIN * ridingNoise, stops * STOP_EDGE_M, CUT_UNCERTAIN * cutM),
    stops,
    windowS,
    samples: used.length,
  };
}

/** Standard deviation of the noise of one step across the track, m, from the third differences at a right angle to it: a steady bend has none. */
function noiseAcross(x: Float64Array, y: Float64Array): number {
  const across: number[] = [];
  const stride = Math.max(1, Math.floor(x.length / 50_000));
  for (let k = 1; k + 2 < x.length; k += stride) {
    const [dx, dy] = [x[k + 2]! - x[k - 1]!, y[k + 2]! - y[k - 1]!];
    const length = Math.hypot(dx, dy);
    // Without a direction there is no across.
    if (length < 4) continue;
    const third = (z: Float64Array): number => z[k + 2]! - 3 * z[k + 1]! + 3 * z[k]! - z[k - 1]!;
    const [sx, sy] = [third(x), third(y)];
    across.push(Math.abs(sx * dy - sy * dx) / length);
  }
  if (across.length < 10) return 0;
  return Math.min(MOST_STEP_NOISE_M, (MAD_TO_SD * median(across)!) / Math.sqrt(THIRD_TO_STEP));
}

/** Of what chords cut off, so much is not known. */
const CUT_UNCERTAIN = 0.6;
/** Turns below so many standard deviations of their noise are none. */
const TURN_SURE = 3;
/** Sharper than this between three positions, it is a turning back, not a corner. */
const SHARPEST = 2.4;

/**
 * What the straight line between two positions cuts off the way, m, for each step. The directions before and after a step tell how far the
 * road turns within it: a corner (the road straight before and after) has the two sides of the triangle, a bend that goes on has its arc.
 */
function cutCorners(x: Float64Array, y: Float64Array, moving: Uint8Array, stepNoise: number): Float64Array {
  const n = x.length;
  const cut = new Float64Array(n);
  /** Change of direction at a position, between the step that ends and the one that begins there; 0 at a stop. */
  const turn = (k: number): number => {
    if (k < 1 || k + 1 >= n || !moving[k] || !moving[k + 1]) return 0;
    const [ax, ay, bx, by] = [x[k]! - x[k - 1]!, y[k]! - y[k - 1]!, x[k + 1]! - x[k]!, y[k + 1]! - y[k]!];
    return Math.atan2(ax * by - ay * bx, ax * bx + ay * by);
  };
  for (let k = 2; k + 1 < n; k++) {
    if (!moving[k]) continue;
    const length = Math.hypot(x[k]! - x[k - 1]!, y[k]! - y[k - 1]!);
    const [into, out] = [turn(k - 1), turn(k)];
    const turned = into + out;
    if (into * out <= 0 || Math.abs(turned) > SHARPEST) continue;
    if (Math.abs(turned) < (TURN_SURE * Math.sqrt(6) * stepNoise) / Math.max(1, length)) continue;
    const arc = (length * (turned / 2) ** 2) / 24;
    const corner = length * ((Math.sin(into) + Math.sin(out)) / Math.sin(turned) - 1);
    const goesOn = [turn(k - 2), turn(k + 1)].reduce((sum, t) => sum + (t * turned > 0 ? Math.abs(t) : 0), 0);
    const isCorner = Math.max(0, 1 - (2 * goesOn) / Math.abs(turned));
    cut[k] = arc + isCorner * Math.max(0, corner - arc);
  }
  return cut;
}

function windowFor(t: Float64Array, stepNoise: number): number {
  const steps = Float64Array.from({ length: t.length - 1 }, (_, k) => t[k + 1]! - t[k]!);
  const usualStep = median(steps) ?? 1;
  // Slow wander grows with the root of time at the most.
  const wanted = ((SURE * stepNoise) / STANDING_MPS) ** 2 / usualStep;
  return Math.min(LONGEST_WINDOW_S, Math.max(SHORTEST_WINDOW_S, 2 * usualStep, wanted));
}

/** For each step whether the bike gets anywhere in the seconds about it. */
function movingSteps(t: Float64Array, x: Float64Array, y: Float64Array, windowS: number): Uint8Array {
  const moving = new Uint8Array(t.length);
  let [from, to] = [0, 0];
  for (let k = 1; k < t.length; k++) {
    const middle = (t[k]! + t[k - 1]!) / 2;
    while (from < k - 1 && t[from]! < middle - windowS / 2) from++;
    to = Math.max(to, k);
    while (to + 1 < t.length && t[to]! < middle + windowS / 2) to++;
    const seconds = t[to]! - t[from]!;
    moving[k] = Math.hypot(x[to]! - x[from]!, y[to]! - y[from]!) > STANDING_MPS * seconds ? 1 : 0;
  }
  return moving;
}
