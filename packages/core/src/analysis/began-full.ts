import { chargeAtRest, CHEMISTRIES } from '../battery/index.js';
import { firstAtOrAfter } from '../numeric/index.js';
import type { CleanLog } from '../logs/index.js';
import type { TestContext } from './test-context.js';

/** Rested, a pack of this share of its full voltage is full. */
export const FULL_SHARE = 0.985;
const REST_A = 0.5;
const REST_LOOK_S = 20;

/** Mean of the first readings without load, V; undefined where it is loaded from the start. */
export function restingVoltage({ timeS, channels: { voltage, current } }: CleanLog): number | undefined {
  if (!current || !voltage) return undefined;
  const end = firstAtOrAfter(timeS, timeS[0]! + REST_LOOK_S);
  const resting: number[] = [];
  for (let k = 0; k < end && Math.abs(current[k]!) < REST_A; k++)
    if (!Number.isNaN(voltage[k]!)) resting.push(voltage[k]!);
  return resting.length < 2 ? undefined : resting.reduce((sum, one) => sum + one, 0) / resting.length;
}

/** By the typical curve of its cells; what rest volts of a pack just charged come to. */
const FULL_CHARGE = 0.93;

/**
 * Whether the volts at rest, read off or logged, show that the pack was full at the start. All bars lit are no such sign: the
 * first bar may be half gone. Units: V.
 */
export function voltsShowFull(context: TestContext, log: CleanLog | null): boolean {
  const { fullVoltageV, manualReadings, isPartWay, pack } = context;
  const chemistry = pack?.chemistry ?? 'li-ion-nmc';
  const { fullCellV, nominalCellV } = CHEMISTRIES[chemistry];
  const cells =
    fullVoltageV === undefined
      ? Math.round((pack?.nominalVoltageV ?? 0) / nominalCellV)
      : Math.round(fullVoltageV / fullCellV);
  if (isPartWay || cells < 1) return false;
  const atRest = manualReadings?.restVoltageStartV ?? (log ? restingVoltage(log) : undefined);
  return atRest !== undefined && chargeAtRest(chemistry, atRest / cells) >= FULL_CHARGE;
}
