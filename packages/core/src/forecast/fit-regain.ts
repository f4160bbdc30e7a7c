import { sampleQuantile } from '../statistics/index.js';
import { STANDARD_GRAVITY_MPS2 } from '../units/index.js';
import { ROTATING_FACTOR } from './motion-blocks.js';
import type { Regain } from './path.js';
import type { RideRecord } from './ride-record.js';

export interface RegainFit extends Regain {
  /** Of the share, as a logarithm. */
  readonly sd: number;
  readonly seconds: number;
}

/** Less than this flowing back may be a sensor that is half an ampere off while nothing flows, W. */
const FLOWS_W = 30;
const LEAST_SECONDS = 12;
const LEAST_WORK_J = 2000;
const DOUBT = 0.25;
const MOST_SHARE = 0.8;

/**
 * What braking gives back: energy that flowed into the battery over the work of slowing down, less air and road. Undefined where nothing
 * flowed back, so that a drive with a freewheel promises nothing.
 */
export function fitRegain(
  records: readonly RideRecord[],
  { dragArea, rolling }: { readonly dragArea: number; readonly rolling: number },
): RegainFit | undefined {
  let [backJ, brakedJ, seconds] = [0, 0, 0];
  const currents: number[] = [];
  for (const { count, powerW, currentA, voltageV, speedMps, altitudeM, facts } of records)
    for (let k = 1; k + 1 < count; k++) {
      const [v, power] = [speedMps[k]!, powerW[k]!];
      if (!(v > 1) || !(power < -FLOWS_W)) continue;
      const slowing = -((speedMps[k + 1]! - speedMps[k - 1]!) / 2) * facts.totalMassKg * ROTATING_FACTOR * v;
      const falling =
        altitudeM.length > 0
          ? -((altitudeM[k + 1]! - altitudeM[k - 1]!) / 2) * facts.totalMassKg * STANDARD_GRAVITY_MPS2
          : 0;
      const taken =
        0.5 * facts.airDensity * dragArea * v * v * v + facts.totalMassKg * STANDARD_GRAVITY_MPS2 * rolling * v;
      const work = slowing + (Number.isNaN(falling) ? 0 : falling) - taken;
      if (Number.isNaN(work)) continue;
      backJ -= power;
      brakedJ += work;
      seconds++;
      const amps = Number.isNaN(currentA[k]!) ? power / voltageV[k]! : currentA[k]!;
      if (amps < 0) currents.push(-amps);
    }
  if (seconds < LEAST_SECONDS || !(brakedJ > LEAST_WORK_J)) return undefined;
  return {
    share: Math.min(MOST_SHARE, backJ / brakedJ),
    limitA: currents.length > 0 ? sampleQuantile(currents, 0.95) : 0,
    sd: DOUBT,
    seconds,
  };
}
