import { requirePositive } from '../../errors/index.js';
import { airDensityKgPerM3 } from '../../physics/index.js';

export interface ImpliedConsumption {
  /** Claimed energy over claimed range. */
  readonly whPerKm: number;
  /** What the road takes on the level at that speed, at the wheel. */
  readonly roadWhPerKm: number;
  /** Share of the road's work that is left to the rider. */
  readonly riderShare: number;
  readonly plausibility: 'motor-alone' | 'rider-helps' | 'rider-mostly' | 'hardly-possible';
}

const GRAVITY = 9.80665;
const JOULES_PER_METRE_IN_WH_PER_KM = 3.6;
/** Of the energy out of the pack, what a good drive brings to the road. */
const DRIVE_EFFICIENCY = 0.8;
/** An upright rider on good tyres; stated, since a claim does not say. */
export const USUAL_ROAD = { massKg: 105, dragAreaM2: 0.55, rollingCoefficient: 0.007, speedKmh: 20 } as const;
/** A rider keeps up this share of the road's work at a claim's speed, at most. */
const MOST_OF_A_RIDER = 0.85;

/**
 * What a claimed range on a claimed energy means: Wh/km, and how much of the road's work that leaves to the rider.
 *
 * Units: Wh, km, km/h, kg. Method: level road, no wind, air at 20 °C; rolling and air at the stated speed against 80 % of the energy.
 * Fails: throws `not-positive`.
 */
export function impliedConsumption(claim: {
  readonly energyWh: number;
  readonly rangeKm: number;
  readonly speedKmh?: number | undefined;
  readonly massKg?: number | undefined;
}): ImpliedConsumption {
  const { energyWh, rangeKm, speedKmh = USUAL_ROAD.speedKmh, massKg = USUAL_ROAD.massKg } = claim;
  requirePositive({ energyWh, rangeKm, speedKmh, massKg });
  const speed = speedKmh / 3.6;
  const air = 0.5 * airDensityKgPerM3(20) * USUAL_ROAD.dragAreaM2 * speed ** 2;
  const rolling = massKg * GRAVITY * USUAL_ROAD.rollingCoefficient;
  const roadWhPerKm = (air + rolling) / JOULES_PER_METRE_IN_WH_PER_KM;
  const whPerKm = energyWh / rangeKm;
  const riderShare = Math.max(0, 1 - (whPerKm * DRIVE_EFFICIENCY) / roadWhPerKm);
  return { whPerKm, roadWhPerKm, riderShare, plausibility: plausibilityOf(riderShare) };
}

function plausibilityOf(riderShare: number): ImpliedConsumption['plausibility'] {
  if (riderShare > MOST_OF_A_RIDER) return 'hardly-possible';
  if (riderShare > 0.5) return 'rider-mostly';
  return riderShare > 0.05 ? 'rider-helps' : 'motor-alone';
}
