import { exactSum } from './exact-sum.js';
import type { MassItem } from './total-mass.js';

export interface AxleLoads {
  readonly frontKg: number;
  readonly rearKg: number;
  /** On the trailer's own axle. */
  readonly trailerKg: number;
  /** Of front and rear together. */
  readonly frontShare: number;
  /** What was taken for want of a measurement. */
  readonly assumptions: readonly string[];
}

/**
 * Share of a mass that rests on the front wheel, by its place along the wheelbase. Rules of thumb for an upright rider;
 * weighing both wheels on the stand replaces them.
 */
const FRONT_SHARE: Readonly<Record<Exclude<MassItem['place'], 'bike' | 'trailer'>, number>> = {
  'front-wheel': 1,
  'front-rack': 1,
  handlebar: 0.9,
  frame: 0.5,
  rider: 0.4,
  'rear-rack': 0,
  'rear-wheel': 0,
};
const BIKE_FRONT_SHARE = 0.45;
/** Of a trailer's mass, what its bar rests on the bike. */
const TRAILER_BAR_SHARE = 0.1;

/**
 * Load on each axle from the masses and their places. Units: kg in, kg out; the three loads sum to the total.
 * Method: lever rule with the shares above; `bikeFrontShare` where the bike was weighed.
 */
export function axleLoads(items: readonly MassItem[], bikeFrontShare: number | null): AxleLoads {
  const front: number[] = [];
  const rear: number[] = [];
  const trailer: number[] = [];
  for (const { massKg, place } of items) {
    if (place === 'trailer') {
      rear.push(massKg * TRAILER_BAR_SHARE);
      trailer.push(massKg * (1 - TRAILER_BAR_SHARE));
      continue;
    }
    const share = place === 'bike' ? (bikeFrontShare ?? BIKE_FRONT_SHARE) : FRONT_SHARE[place];
    front.push(massKg * share);
    rear.push(massKg * (1 - share));
  }
  // To the milligram: shares of grams are not whole grams.
  const [frontKg, rearKg, trailerKg] = [exactSum(front, 6), exactSum(rear, 6), exactSum(trailer, 6)];
  const assumptions: string[] = [];
  if (bikeFrontShare === null && items.some(({ place }) => place === 'bike'))
    assumptions.push('bike: 45 % on the front wheel, not weighed');
  if (items.some(({ place }) => place === 'rider')) assumptions.push('rider: 40 % on the front wheel, sitting upright');
  if (items.some(({ place }) => place === 'frame')) assumptions.push('in the frame: half on each wheel');
  if (trailerKg > 0) assumptions.push('trailer: a tenth rests on the bike');
  return {
    frontKg,
    rearKg,
    trailerKg,
    frontShare: frontKg + rearKg > 0 ? frontKg / (frontKg + rearKg) : 0,
    assumptions,
  };
}
