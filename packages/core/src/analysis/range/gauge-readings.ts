import type { GaugeReading } from '../../battery/index.js';
import { firstAtOrAfter } from '../../numeric/index.js';
import { JOULES_PER_WATT_HOUR } from '../../units/index.js';
import type { CleanLog } from '../../logs/index.js';
import type { TestContext } from '../test-context.js';
import { rideDistance } from './ride-distance.js';
import { voltsShowFull } from '../began-full.js';
import { electricalPower } from './ride-integrals.js';

/**
 * What the pack's gauge showed, beside what the logger had counted by then since the pack was full: at the end, on the way, and
 * where a bar went out. None unless its volts show that the ride began full, and its energy was logged. Units: Wh; `shown` as a share of the bars.
 */
export function gaugeReadings(log: CleanLog, context: TestContext): GaugeReading[] {
  const { gauge, manualReadings } = context;
  if (!gauge || gauge.startShare < 1 || !log.hasClock || !voltsShowFull(context, log)) return [];
  const usedWh = usedOverTime(log);
  if (!usedWh) return [];
  const { timeS } = log;
  const start = timeS[0]!;
  const atTime = (elapsedS: number): number | undefined =>
    elapsedS > timeS.at(-1)! - start ? undefined : usedWh[firstAtOrAfter(timeS, start + elapsedS)];
  const reading = (shown: number, used: number | undefined, isEdge: boolean): GaugeReading[] =>
    used === undefined || !(used > 0) ? [] : [{ shown, usedWh: used, isEdge, stepShare: gauge.stepShare }];
  const along = rideDistance(log)?.cumulativeM;
  const atKm = (km: number): number | undefined => {
    const index = along ? along.findIndex((metres) => metres - along[0]! >= 1000 * km) : -1;
    return index < 0 ? undefined : usedWh[index];
  };
  return [
    ...reading(gauge.endShare, usedWh.at(-1), false),
    ...(manualReadings?.gaugeSeen ?? []).flatMap(({ elapsedS, bars }) =>
      reading(bars * gauge.stepShare, atTime(elapsedS), false),
    ),
    ...(manualReadings?.barsOut ?? []).flatMap(({ km, left }) => reading(left * gauge.stepShare, atKm(km), true)),
  ];
}

/** Net energy out of the pack up to each sample, Wh; gaps are bridged at the power of their edges. */
function usedOverTime({ timeS, channels }: CleanLog): Float64Array | undefined {
  const power = electricalPower(channels);
  if (!power) return undefined;
  const used = new Float64Array(timeS.length);
  let [sum, last] = [0, -1];
  for (let k = 0; k < timeS.length; k++) {
    const watts = power.powerW[k]!;
    if (!Number.isNaN(watts)) {
      if (last >= 0) sum += ((watts + power.powerW[last]!) / 2) * (timeS[k]! - timeS[last]!);
      last = k;
    }
    used[k] = sum / JOULES_PER_WATT_HOUR;
  }
  return used;
}
