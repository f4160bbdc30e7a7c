import type { ChannelColumns } from '../../logs/index.js';
import { fitLine } from '../uneven-scatter.js';
import { airDensityOf, type TestContext } from '../test-context.js';

/** Whether a speed had settled: what it would still have gained, in m/s, at the most. */
export interface Settling {
  readonly isSettled: boolean;
  readonly restMps: number;
}

/** Looked back over, s: the slope over a few seconds more tells what one window does not. */
const LOOK_BACK_S = 12;
const MIN_SAMPLES = 6;
/** The slope counts where it is so many standard errors above zero. */
const SURE = 2;
/** A rest beyond this share of the speed is no top speed. */
const MOST_REST = 0.04;
const USUAL_TIME_S = 12;
const LONGEST_TIME_S = 25;
/** Below this share of the pass's own power the drive is off. */
const DRIVEN_SHARE = 0.05;
const DRIVEN_THROTTLE = 0.5;

/** For each sample whether the bike was driven, by throttle or pedals or else by power (W); always where none was logged. */
export function drivenSamples(
  { throttle, cadence }: Pick<ChannelColumns, 'cadence' | 'throttle'>,
  powerW: Float64Array | undefined,
  from: number,
  to: number,
): (k: number) => boolean {
  const highest = (column: Float64Array): number => {
    let most = 0;
    for (let k = from; k <= to; k++) if (column[k]! > most) most = column[k]!;
    return most;
  };
  if (throttle) {
    const most = highest(throttle);
    if (most > 0) return (k) => !(throttle[k]! < DRIVEN_THROTTLE * most);
  }
  if (!powerW) return () => true;
  const most = highest(powerW);
  // At the end of help the motor gives next to nothing, and the rider pedals on.
  return (k) => (cadence?.[k] ?? 0) > 0 || !(powerW[k]! < DRIVEN_SHARE * most);
}

/** How fast a bike's speed nears its end, s: mass over the slope of its resistance; a drive that weakens with speed only shortens it. */
export function settlingTimeS(speedMps: number, context: TestContext): number {
  const { totalMassKg, cdaM2 } = context;
  const density = airDensityOf(context) ?? 1.2;
  if (totalMassKg === undefined || cdaM2 === undefined) return USUAL_TIME_S;
  return Math.min(LONGEST_TIME_S, totalMassKg / (density * cdaM2 * speedMps));
}

/**
 * Looks whether the speed still rose at the end of a window: slope over the last seconds under drive, times the time in which such a bike
 * nears its end. Shapes: equal lengths; s, m/s.
 */
export function settling(
  timeS: Float64Array,
  speed: Float64Array,
  window: { readonly from: number; readonly first: number; readonly last: number },
  isDriven: (k: number) => boolean,
  timeConstantS: number,
): Settling {
  const x: number[] = [];
  const y: number[] = [];
  const endS = timeS[window.last]!;
  for (let k = window.last; k >= window.from && endS - timeS[k]! <= LOOK_BACK_S; k--) {
    if (k < window.first && !isDriven(k)) break;
    if (Number.isNaN(speed[k]!)) continue;
    x.unshift(timeS[k]! - endS);
    y.unshift(speed[k]!);
  }
  if (x.length < MIN_SAMPLES) return { isSettled: false, restMps: 0 };
  // A rise that bends over is steeper at its beginning: the later half tells the end of it.
  const half = x.findIndex((t) => t >= x[0]! / 2);
  const late = fitLine(x.slice(half), y.slice(half));
  const whole = fitLine(x, y);
  const tells = late && late.error < whole!.error * 3 ? late : whole!;
  const isRising = whole!.slope > SURE * whole!.error && tells.slope > 0;
  const rest = isRising ? Math.max(0, tells.slope) * timeConstantS : 0;
  const speedMps = y.reduce((sum, v) => sum + v, 0) / y.length;
  // Only so far as the error lets it be told; a settled speed wavers both ways.
  const surely = isRising ? Math.max(0, tells.slope - SURE * tells.error) * timeConstantS : 0;
  return { isSettled: surely < MOST_REST * speedMps, restMps: rest };
}
