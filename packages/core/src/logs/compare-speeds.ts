import { summarizeSample } from '../statistics/index.js';
import { studentTQuantile } from '../statistics/index.js';
import type { ChannelColumns } from './channels.js';
import { trackLength } from './track-length.js';

export interface SpeedComparison {
  /** Wheel distance ÷ position distance. */
  readonly ratio: number;
  readonly lower: number;
  readonly upper: number;
  /** The ratio is surely more than 2 % off: the wheel circumference is set wrong. */
  readonly isSuspect: boolean;
}

const BLOCK_S = 60;
/** Short hops are mostly position noise. */
const SHORTEST_BLOCK_M = 100;
/** Positions that leap farther than so many times the way of the wheel, and so many metres, were not ridden. */
const CARRIED_TIMES = 3;
const CARRIED_M = 60;
const TOLERANCE = 0.02;

/**
 * Ratio of wheel distance to position distance over blocks of a minute, with its 95 % interval.
 * Undefined when there is no position or fewer than five moving blocks.
 */
export function compareSpeeds(
  timeS: Float64Array,
  { speed, latitude, longitude }: ChannelColumns,
  gapLimitS: number,
): SpeedComparison | undefined {
  if (!speed || !latitude || !longitude) return undefined;
  const track = trackLength(timeS, { latitude, longitude }, true);
  if (!track) return undefined;
  const logRatios: number[] = [];
  let wheelM = 0;
  let positionM = 0;
  let blockStart = timeS[0]!;
  let last = -1;
  for (let k = 0; k < timeS.length; k++) {
    if (Number.isNaN(speed[k]!) || Number.isNaN(latitude[k]!) || Number.isNaN(longitude[k]!)) continue;
    if (last >= 0) {
      const step = timeS[k]! - timeS[last]!;
      const [byWheelM, byPositionM] = [
        ((speed[k]! + speed[last]!) / 2) * step,
        track.cumulativeM[k]! - track.cumulativeM[last]!,
      ];
      // Across a gap, and where a bike was carried on unseen, the two tell nothing of the wheel.
      if (step <= gapLimitS && byPositionM <= CARRIED_TIMES * byWheelM + CARRIED_M) {
        wheelM += byWheelM;
        positionM += byPositionM;
      }
    }
    last = k;
    if (timeS[k]! - blockStart >= BLOCK_S) {
      if (wheelM > SHORTEST_BLOCK_M && positionM > SHORTEST_BLOCK_M) logRatios.push(Math.log(wheelM / positionM));
      [wheelM, positionM, blockStart] = [0, 0, timeS[k]!];
    }
  }
  if (logRatios.length < 5) return undefined;
  const { count, mean, variance } = summarizeSample(logRatios);
  const margin = studentTQuantile(0.975, count - 1) * Math.sqrt(variance / count);
  const [ratio, lower, upper] = [Math.exp(mean), Math.exp(mean - margin), Math.exp(mean + margin)];
  return { ratio, lower, upper, isSuspect: lower > 1 + TOLERANCE || upper < 1 - TOLERANCE };
}
