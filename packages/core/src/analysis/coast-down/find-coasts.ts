import type { CleanLog } from '../../logs/index.js';
import { median } from '../../numeric/index.js';
import { estimateNoise, fitLocalLines, presentSamples } from '../../signal/index.js';

export interface CoastSamples {
  readonly from: number;
  readonly to: number;
}

/** Battery current of a controller that only idles, A. */
const IDLE_A = 0.8;
/** What the motor's last push may still do, s. */
const AFTER_POWER_S = 0.6;
export const MIN_COAST_S = 8;
const MIN_FALL_MPS = 1.5;
const SLOWEST_MPS = 1.5;
/** Lines through the speed that tell brakes from air and tyres. */
const LINE_S = 2;
/** A slow logger needs longer lines: over so many of its steps. */
const MIN_STEPS = 4;
/** The pace at which a coast slows at its start is read off this much of it. */
const FIRST_S = 5;
/** Free, a bike slows ever less; this much more than at the start, as a share and beside it in m/s², are brakes or another slope. */
const BRAKES_SHARE = 1.3;
const BRAKES_MPS2 = 0.1;
const BRAKE_GUARD_S = 0.7;

/** Samples of the spans of a log in which the bike rolls free. */
export function findCoasts({ timeS, channels, report }: CleanLog): CoastSamples[] {
  const { speed, current, power, cadence, brake } = channels;
  const isFree = (k: number): boolean => {
    const v = speed![k]!;
    if (Number.isNaN(v) || v < SLOWEST_MPS) return false;
    if (current && Math.abs(current[k]!) > IDLE_A) return false;
    if (!current && power && Math.abs(power[k]!) > 50) return false;
    return !(cadence && cadence[k]! > 0) && !(brake && brake[k]! > 0.5);
  };
  const coasts: CoastSamples[] = [];
  let from = -1;
  for (let k = 0; k <= timeS.length; k++) {
    if (k < timeS.length && (isFree(k) || (from >= 0 && Number.isNaN(speed![k]!)))) {
      if (from < 0) from = k;
      continue;
    }
    if (from < 0) continue;
    let start = from;
    while (start < k - 1 && timeS[start]! - timeS[from]! < AFTER_POWER_S) start++;
    const end = beforeBrakes(timeS, speed!, start, k - 1, Math.max(LINE_S, MIN_STEPS * report.medianStepS));
    if (timeS[end]! - timeS[start]! >= MIN_COAST_S && speed![start]! - speed![end]! >= MIN_FALL_MPS)
      coasts.push({ from: start, to: end });
    from = -1;
  }
  return coasts;
}

/** The last sample of a coast before it slows faster than it did at its start: most loggers do not see the brakes. */
function beforeBrakes(timeS: Float64Array, speed: Float64Array, from: number, to: number, lineS: number): number {
  const { at: kept, x: times, y: values } = presentSamples(timeS, speed, from, to);
  const { slope } = fitLocalLines(times, values, lineS);
  const startS = timeS[from]!;
  const first: number[] = [];
  for (let k = 0; k < times.length && times[k]! - startS <= FIRST_S + lineS / 2; k++)
    if (times[k]! - startS >= lineS / 2) first.push(-slope[k]!);
  const perLine = (kept.length * lineS) / (timeS[to]! - startS);
  const noise = (estimateNoise(values) * Math.sqrt(12 / perLine)) / lineS;
  const most = BRAKES_SHARE * Math.max(0, median(first) ?? Infinity) + BRAKES_MPS2 + 3 * noise;
  const braked = slope.findIndex((value, k) => -value > most && times[k]! - startS > FIRST_S);
  // The line sees the brakes half of its length ahead, and at the end of a coast not at all: a tenth of a second of them would pass for rolling.
  const endS = (braked < 0 ? timeS[to]! : timeS[kept[braked]!]! - lineS / 2) - BRAKE_GUARD_S;
  let end = braked < 0 ? to : kept[braked]!;
  while (end > from && timeS[end]! > endS) end--;
  return end;
}
