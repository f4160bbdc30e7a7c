import { fitLine } from '../uneven-scatter.js';
import type { HeatLoad } from './heat-points.js';

/** How a load moves by itself as the motor warms, as shares of its mean for each kelvin. */
export interface Creep {
  readonly perK: number;
  readonly standardErrorPerK: number;
}

/**
 * Before the log is looked at: of the power that a motor takes for one and the same pull, 5 to 30 % is lost in copper, which grows by
 * 0.4 % a kelvin. The squares of current and force grow by twice as much.
 */
const USUAL_PER_K = 0.0005;
const USUAL_DEVIATION_PER_K = 0.0004;
/** More than this no copper makes of it: then the riding changed while the motor warmed, a road that steepened or a rider who tired. */
const MOST_PER_K = 0.0015;
/** So many standard errors beyond what copper can make. */
const SURE = 2;
/** Fewer points, or less warming, tell nothing. */
const MIN_POINTS = 20;
const MIN_WARMING_K = 5;

/**
 * How far a load creeps with the motor's temperature while it is ridden alike: a colder and a warmer half of one climb do not take the same
 * watts, and settled it will take more still.
 * Method: least squares of the load on the temperature over the points of the riding, its error widened for what hangs together, and
 * weighed against what is usual (both normal). A slope that copper cannot make says that the riding changed, and nothing of the motor.
 */
export function creepOf({ name, bare }: HeatLoad, riseK: readonly number[], points: readonly number[]): Creep {
  const order = name === 'power' ? 1 : 2;
  const usual = { perK: order * USUAL_PER_K, standardErrorPerK: order * USUAL_DEVIATION_PER_K };
  const x = points.map((k) => riseK[k]!);
  const y = points.map((k) => bare[k]!);
  const mean = y.reduce((sum, value) => sum + value, 0) / Math.max(1, y.length);
  if (points.length < MIN_POINTS || Math.max(...x) - Math.min(...x) < MIN_WARMING_K || !(mean > 0)) return usual;
  const line = fitLine(x, y);
  if (!line) return usual;
  const [seen, error] = [line.slope / mean, Math.max(1e-6, line.error / mean)];
  if (seen < -SURE * error || seen > order * MOST_PER_K + SURE * error) return usual;
  const [here, before] = [error ** -2, usual.standardErrorPerK ** -2];
  return {
    perK: Math.max(0, (here * seen + before * usual.perK) / (here + before)),
    standardErrorPerK: 1 / Math.sqrt(here + before),
  };
}
