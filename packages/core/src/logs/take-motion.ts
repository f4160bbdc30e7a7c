import { gather } from '../numeric/index.js';
import { CHANNEL_NAMES, type ChannelColumns, type ChannelName } from './channels.js';

/** What a phone or a box feels: specific force (at rest 1 g, away from the ground) and turn rate in its own axes, on a clock of its own. */
export interface Motion {
  readonly timeS: Float64Array;
  /** x, y and z, m/s². */
  readonly force: readonly [Float64Array, Float64Array, Float64Array];
  /** About x, y and z, degrees a second. */
  readonly turn?: readonly [Float64Array, Float64Array, Float64Array];
}
const FORCE = ['accelerationX', 'accelerationY', 'accelerationZ'] as const satisfies readonly ChannelName[];
const TURN = ['turnRateX', 'turnRateY', 'turnRateZ'] as const satisfies readonly ChannelName[];
const MOTION: ReadonlySet<ChannelName> = new Set([...FORCE, ...TURN]);
/** A log of nothing but motion keeps a row of this many seconds. */
const BARE_STEP_S = 1;

/**
 * Takes what was felt out of a log: it comes many times as often as all else, and rows that hold nothing else would make of a speed once a
 * second a log with holes. Answers the motion, where all three axes are there, and which rows the rest of the log has; undefined where no such
 * column is.
 */
export function takeMotion(
  timeS: Float64Array,
  channels: ChannelColumns,
): { readonly motion?: Motion; readonly kept: readonly number[] } | undefined {
  const moved = CHANNEL_NAMES.flatMap((name) => (MOTION.has(name) && channels[name] ? [channels[name]] : []));
  if (moved.length === 0) return undefined;
  const force = FORCE.map((name) => channels[name]);
  const turn = TURN.map((name) => channels[name]);
  const others = CHANNEL_NAMES.flatMap((name) => (!MOTION.has(name) && channels[name] ? [channels[name]] : []));
  const isOther = (k: number): boolean => others.some((column) => !Number.isNaN(column[k]!));
  const isAlone = Array.from({ length: timeS.length }, (_, k) => k).filter(isOther).length < 2;
  const felt: number[] = [];
  const kept: number[] = [];
  let lastS = -Infinity;
  for (let k = 0; k < timeS.length; k++) {
    if (force.every((column) => column && !Number.isNaN(column[k]!))) felt.push(k);
    const isMoved = moved.some((column) => !Number.isNaN(column[k]!));
    const isBare = isAlone && timeS[k]! - lastS >= BARE_STEP_S;
    // A row without anything is a sample of the others that was lost.
    if (isMoved && !isOther(k) && !isBare) continue;
    kept.push(k);
    lastS = timeS[k]!;
  }
  for (const name of MOTION) delete channels[name];
  if (felt.length === 0) return { kept };
  const of = (columns: readonly (Float64Array | undefined)[]): Motion['force'] =>
    columns.map((column) => gather(column!, felt)) as unknown as Motion['force'];
  return {
    motion: {
      timeS: gather(timeS, felt),
      force: of(force),
      ...(turn.every((column) => column) && { turn: of(turn) }),
    },
    kept,
  };
}

/** The part of a motion between two times. */
export function sliceMotion(motion: Motion, fromS: number, toS: number): Motion {
  const from = motion.timeS.findIndex((t) => t >= fromS);
  const after = motion.timeS.findIndex((t) => t > toS);
  const cut = (column: Float64Array): Float64Array =>
    from < 0 ? column.subarray(0, 0) : column.subarray(from, after < 0 ? undefined : after);
  const all = (columns: Motion['force']): Motion['force'] => [cut(columns[0]), cut(columns[1]), cut(columns[2])];
  return { timeS: cut(motion.timeS), force: all(motion.force), ...(motion.turn && { turn: all(motion.turn) }) };
}
