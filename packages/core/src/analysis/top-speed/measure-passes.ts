import type { CleanLog } from '../../logs/index.js';
import type { Directions } from '../directions.js';
import { meanOfSpan } from '../uneven-scatter.js';
import type { TestContext } from '../test-context.js';
import { steadiest } from './find-passes.js';
import { drivenSamples, settling, settlingTimeS } from './settling.js';

export interface SpeedPass {
  readonly direction: 1 | -1;
  readonly startS: number;
  readonly endS: number;
  /** The steady window the speed is taken from. */
  readonly fromS: number;
  readonly toS: number;
  /** km/h, with its standard uncertainty from scatter alone. */
  readonly steadySpeed: number;
  readonly scatterKmh: number;
  /** How far the best window lies above those like it, km/h. */
  readonly choiceKmh: number;
  readonly powerW: number | null;
  /** Whether it had stopped rising, and what it may still have gained, km/h. */
  readonly isSettled: boolean;
  readonly restKmh: number;
}
/** First and last sample. */
export interface PassSamples {
  readonly from: number;
  readonly to: number;
}

/**
 * Speed and power of each pass in its steady window: the steadiest 5 s at the highest speed, or the whole of a window that
 * a tester set. A pass without such a window is left out.
 */
export function measurePasses(
  { timeS, channels }: CleanLog,
  speed: Float64Array,
  powerW: Float64Array | undefined,
  found: readonly PassSamples[],
  directions: Directions,
  isGiven: boolean,
  context: TestContext,
): SpeedPass[] {
  return found.flatMap(({ from, to }, k): SpeedPass[] => {
    const isDriven = drivenSamples(channels, powerW, from, to);
    const window = isGiven ? { first: from, last: to, choiceMps: 0 } : steadiest(timeS, speed, from, to, isDriven);
    const steady = window && meanOfSpan(speed.subarray(window.first, window.last + 1));
    if (!window || !steady) return [];
    const settled = settling(timeS, speed, { from, ...window }, isDriven, settlingTimeS(steady.mean, context));
    const watts = powerW && meanOfSpan(powerW.subarray(window.first, window.last + 1));
    return [
      {
        direction: directions.of[k]!,
        // A pass begins where the one before ended: between them the bike turns.
        startS: k === 0 ? timeS[0]! : timeS[found[k - 1]!.to]!,
        endS: timeS[to]!,
        fromS: timeS[window.first]!,
        toS: timeS[window.last]!,
        steadySpeed: steady.mean * 3.6,
        scatterKmh: steady.standardError * 3.6,
        choiceKmh: window.choiceMps * 3.6,
        powerW: watts?.mean ?? null,
        isSettled: settled.isSettled,
        restKmh: settled.restMps * 3.6,
      },
    ];
  });
}
