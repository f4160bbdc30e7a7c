import { firstAtOrAfter, median } from '../../numeric/index.js';
import type { Pulse } from './find-starts.js';

/** Before the first cadence the wheel is looked at so long, s. */
const LOOK_BACK_S = 1.2;
const AT_REST_MPS = 0.07;
/** The first moments of motion, through which a line leads back to its beginning. */
const LINE_S = 0.9;
const MIN_SAMPLES = 4;
const MIN_STARTS = 2;
const LONGEST_S = 1;

/**
 * How late a cadence sensor shows standing starts, s: a bike that stands moves when its pedals do, so what its speed, led back to zero, is
 * ahead of the first cadence is the sensor's. The median over the starts; undefined where fewer than two begin at rest.
 */
export function delayByMotion(timeS: Float64Array, speed: Float64Array, pulses: readonly Pulse[]): number | undefined {
  const delays = pulses.flatMap(({ from, to }): number[] => {
    const firstS = timeS[from]!;
    const begin = firstAtOrAfter(timeS, firstS - LOOK_BACK_S);
    let rest = -1;
    for (let k = begin; k <= to && timeS[k]! < firstS + LINE_S / 2; k++) if (speed[k]! < AT_REST_MPS) rest = k;
    // It rolled when the pedals began, or nothing is known of before.
    if (rest < 0 || !(speed[begin]! < AT_REST_MPS)) return [];
    let [n, st, sv, stt, stv] = [0, 0, 0, 0, 0];
    for (let k = rest + 1; k <= to && timeS[k]! <= timeS[rest]! + LINE_S; k++) {
      if (Number.isNaN(speed[k]!)) continue;
      const t = timeS[k]! - firstS;
      n++;
      st += t;
      sv += speed[k]!;
      stt += t * t;
      stv += t * speed[k]!;
    }
    const bottom = n * stt - st * st;
    const slope = bottom > 0 ? (n * stv - st * sv) / bottom : 0;
    if (n < MIN_SAMPLES || !(slope > 0)) return [];
    const zeroS = st / n - sv / n / slope;
    return [Math.max(0, -zeroS)];
  });
  const found = delays.length >= MIN_STARTS ? median(delays) : undefined;
  return found !== undefined && found < LONGEST_S ? found : undefined;
}
