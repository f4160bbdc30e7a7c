import { axleLoads, type AxleLoads } from './axle-loads.js';
import type { EstimateOrReason } from './estimate.js';
import type { SetupFacts } from './facts.js';
import { money, type MoneyRollUp } from './money.js';
import {
  chargeCost,
  chargeTime,
  packEnergy,
  thumbRange,
  type ChargeCost,
  type PackEnergy,
  type ThumbRule,
} from './pack-energy.js';
import { gearSpeeds, helpEndsKmh, noLoadSpeed, type GearSpeed } from './speeds.js';
import { totalMass, type MassRollUp } from './total-mass.js';

export interface RollUp {
  readonly mass: MassRollUp;
  readonly axles: AxleLoads;
  readonly money: MoneyRollUp;
  readonly energy: PackEnergy;
  readonly ranges: readonly { readonly rule: ThumbRule; readonly range: EstimateOrReason }[];
  readonly noLoadSpeed: EstimateOrReason;
  readonly helpEndsKmh: number | null;
  readonly gears: readonly GearSpeed[];
  readonly chargeTime: EstimateOrReason;
  readonly chargeCost: ChargeCost | { readonly missing: readonly string[] };
}

/** A comfortable cadence for the table of gears. */
export const CADENCE_RPM = 70;

/** All sums of a setup that follow from its parts alone. Nothing in it was measured on the road. */
export function rollUp(setup: SetupFacts, thumbRules: readonly ThumbRule[] = [], cadenceRpm = CADENCE_RPM): RollUp {
  const mass = totalMass(setup);
  return {
    mass,
    axles: axleLoads(mass.items, setup.bike.frontShare),
    money: money(setup),
    energy: packEnergy(setup.packs),
    ranges: thumbRules.map((rule) => ({ rule, range: thumbRange(setup, rule) })),
    noLoadSpeed: noLoadSpeed(setup),
    helpEndsKmh: helpEndsKmh(setup),
    gears: gearSpeeds(setup, cadenceRpm),
    chargeTime: chargeTime(setup),
    chargeCost: chargeCost(setup),
  };
}
