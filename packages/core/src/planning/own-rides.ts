import { summarizeSample } from '../statistics/index.js';

/** Own rides take the place of the model from this many on. */
const MIN_OWN_RIDES = 2;
/** A charger holds its full current for most of the charge. */
const CONSTANT_CURRENT_SHARE = 0.85;
const USUAL_CHARGE_EFFICIENCY = 0.86;

export interface OwnRideEstimate {
  readonly durationS: number;
  readonly energyWh: number;
  /** Standard uncertainty of the next ride, not of the mean, Wh. */
  readonly energyUncertaintyWh: number;
  readonly runs: number;
}

/**
 * What the next ride will take, from earlier ones of the same setup, course and test; undefined with fewer than two.
 *
 * Method: mean and prediction of one more value, s·√(1 + 1/n).
 */
export function estimateFromOwnRides(
  energiesWh: readonly number[],
  durationsS: readonly number[],
): OwnRideEstimate | undefined {
  if (energiesWh.length < MIN_OWN_RIDES) return undefined;
  const { mean, variance, count } = summarizeSample(energiesWh);
  return {
    durationS: summarizeSample(durationsS).mean,
    energyWh: mean,
    energyUncertaintyWh: Math.sqrt(variance * (1 + 1 / count)),
    runs: count,
  };
}

/** Into the pack on average over a charge, W, and the share of the socket's energy that arrives; null where it is not known. */
export function chargingOf(
  charger: {
    readonly outputA: number | null;
    readonly outputV: number | null;
    readonly efficiency: number | null;
  } | null,
): { readonly powerW: number | null; readonly efficiency: number } {
  const isKnown = charger?.outputA && charger.outputV;
  return {
    powerW: isKnown ? charger.outputA * charger.outputV * CONSTANT_CURRENT_SHARE : null,
    efficiency: charger?.efficiency ?? USUAL_CHARGE_EFFICIENCY,
  };
}
