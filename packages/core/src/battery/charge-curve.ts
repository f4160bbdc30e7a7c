import type { Chemistry } from './usable-energy.js';

/** Share of the charge that goes in at full current; above it the charger holds the voltage and the current falls. */
const CONSTANT_CURRENT_SHARE: Readonly<Record<Chemistry, number>> = {
  'li-ion-nmc': 0.85,
  'li-ion-lfp': 0.95,
  'lead-acid': 0.75,
};
/** The falling part takes this many times as long as the same charge would at full current. */
const TAPER_FACTOR = 2.5;
/** Relative half-width of a charge time worked out so. */
export const CHARGE_TIME_LIMIT = 0.15;

/** Hours a charge of 1 Ah takes at 1 A, taper included. Method: constant-current part, then a taper 2.5 times as slow for its share. */
export function chargeSlowness(chemistry: Chemistry): number {
  const share = CONSTANT_CURRENT_SHARE[chemistry];
  return share + (1 - share) * TAPER_FACTOR;
}
