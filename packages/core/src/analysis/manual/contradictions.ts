import { say, type Sentence } from '../../units/index.js';
import { derivationQuantity as qty } from '../figure.js';
import { countedKm, DEFAULT_TRIP_STEP_KM, MIN_TRIP_KM, stepOfCounterM } from './manual-parts.js';
import { FASTEST_KMH, type ManualReadings } from './manual-readings.js';

/** What a contradiction leaves nothing to be rested on. */
export type SpoiltReading = 'bars-out' | 'distance' | 'heart-rate' | 'mean-speed' | 'speeds' | 'time';

export interface Contradiction {
  readonly code:
    | 'bar-after-the-end'
    | 'distances-disagree'
    | 'highest-below-mean'
    | 'lowest-above-highest'
    | 'mean-too-low'
    | 'peak-below-mean'
    | 'too-fast'
    | 'too-slow';
  readonly said: Sentence;
  readonly spoils: readonly SpoiltReading[];
}

/** Two counters of one display, or a sum done in the head, differ by less. */
const SAME_SHARE = 0.05;
const DEFAULT_STEP_S = 60;
/** Slower than pushing, with all stops: a comma stands in the wrong place, or minutes for hours. */
export const SLOWEST_KMH = 1;
/** A display rounds its speeds. */
const SPEED_STEP_KMH = 1;

/**
 * Readings of one ride that cannot all be true: which of them is wrong nobody knows, so that nothing may rest on any of them.
 * A reading that is wrong and fits the others cannot be told.
 */
export function contradictionsOf(readings: ManualReadings): readonly Contradiction[] {
  return [
    distancesDisagree(readings),
    cannotTakeThatLong(readings),
    ...speedsDisagree(readings),
    barAfterTheEnd(readings),
    peakBelowMean(readings),
  ].flatMap((one) => one ?? []);
}

/** The readings without those that a contradiction spoils. */
export function withoutSpoilt(readings: ManualReadings, spoilt: ReadonlySet<SpoiltReading>): ManualReadings {
  const left: Record<string, unknown> = { ...readings };
  for (const one of spoilt) for (const key of KEYS[one]) delete left[key];
  return left;
}

const KEYS: Readonly<Record<SpoiltReading, readonly (keyof ManualReadings)[]>> = {
  'bars-out': ['barsOut'],
  distance: ['tripDistanceKm', 'odometerStartKm', 'odometerEndKm'],
  'heart-rate': ['meanHeartRateBpm', 'peakHeartRateBpm'],
  'mean-speed': ['displayMeanKmh'],
  speeds: ['highestSpeedKmh', 'highestSpeedBackKmh', 'lowestSpeedKmh'],
  time: ['durationS'],
};

function distancesDisagree(readings: ManualReadings): Contradiction | undefined {
  const { tripDistanceKm: trip, tripStepKm = DEFAULT_TRIP_STEP_KM, odometerStepKm = DEFAULT_TRIP_STEP_KM } = readings;
  const { odometerStartKm: from, odometerEndKm: to } = readings;
  if (trip === undefined || !(trip > MIN_TRIP_KM) || from === undefined || to === undefined || !(to > from)) return;
  if (Math.abs(trip - (to - from)) <= SAME_SHARE * trip + tripStepKm + 2 * odometerStepKm) return;
  return {
    code: 'distances-disagree',
    said: say`The trip counter says ${qty(trip, 'km')}, the odometer ${qty(to - from, 'km')}: one of them is written wrongly. Nothing is given that rests on the distance; put it right.`,
    spoils: ['distance', 'bars-out'],
  };
}

/** Speed over all, stops included, as fast as distance, time and their steps allow and as slow, km/h. */
function overall(readings: ManualReadings): { km: number; seconds: number; least: number; most: number } | undefined {
  const km = countedKm(readings);
  const { durationS: seconds = 0, durationStepS = DEFAULT_STEP_S } = readings;
  if (km === undefined || !(seconds > 0)) return undefined;
  const stepKm = stepOfCounterM(readings) / 1000;
  const least = (3600 * Math.max(0, km - stepKm)) / (seconds + durationStepS);
  const most = (3600 * (km + stepKm)) / Math.max(1, seconds - durationStepS);
  return { km, seconds, least, most };
}

function cannotTakeThatLong(readings: ManualReadings): Contradiction | undefined {
  const all = overall(readings);
  if (!all) return;
  const kmh = (3600 * all.km) / all.seconds;
  const ridden = say`${qty(all.km, 'km')} in ${qty(all.seconds, 's')} would be ${qty(kmh, 'km/h')}`;
  const mend =
    ': one of them is written wrongly. Nothing is given that rests on either, no consumption and no range; put it right.';
  if (kmh > FASTEST_KMH)
    return { code: 'too-fast', said: [...ridden, `, which no bike rides${mend}`], spoils: ['distance', 'time'] };
  if (all.most < SLOWEST_KMH)
    return { code: 'too-slow', said: [...ridden, `, slower than pushing${mend}`], spoils: ['distance', 'time'] };
  return undefined;
}

/** A display's mean leaves stops out: it is never below distance over time, nor above the highest. */
function speedsDisagree(readings: ManualReadings): Contradiction[] {
  const { displayMeanKmh: mean, highestSpeedKmh: highest, lowestSpeedKmh: lowest } = readings;
  const found: Contradiction[] = [];
  const all = overall(readings);
  const isPossible = all !== undefined && all.most >= SLOWEST_KMH && all.least <= FASTEST_KMH;
  const least = isPossible ? (1 - SAME_SHARE) * all.least : 0;
  if (mean !== undefined && isPossible && mean + SPEED_STEP_KMH < least)
    found.push({
      code: 'mean-too-low',
      said: say`The display’s mean is ${qty(mean, 'km/h')}, and ${qty(all.km, 'km')} in ${qty(all.seconds, 's')} are ${qty((3600 * all.km) / all.seconds, 'km/h')} with all stops: distance, time or mean is written wrongly. Nothing is given that rests on them; put it right.`,
      spoils: ['distance', 'time', 'mean-speed', 'bars-out'],
    });
  if (highest !== undefined && mean !== undefined && highest + SPEED_STEP_KMH < mean)
    found.push({
      code: 'highest-below-mean',
      said: say`The highest speed, ${qty(highest, 'km/h')}, is below the mean, ${qty(mean, 'km/h')}: one of them is written wrongly. Neither is given; put it right.`,
      spoils: ['mean-speed', 'speeds'],
    });
  else if (highest !== undefined && highest + SPEED_STEP_KMH < least)
    found.push({
      code: 'highest-below-mean',
      said: say`The highest speed, ${qty(highest, 'km/h')}, is below what ${qty(all!.km, 'km')} in ${qty(all!.seconds, 's')} come to: one of the three is written wrongly. Nothing is given that rests on them; put it right.`,
      spoils: ['distance', 'time', 'speeds', 'bars-out'],
    });
  if (lowest !== undefined && highest !== undefined && lowest > highest + SPEED_STEP_KMH)
    found.push({
      code: 'lowest-above-highest',
      said: say`The lowest speed, ${qty(lowest, 'km/h')}, is above the highest, ${qty(highest, 'km/h')}: were they exchanged? Neither is given; put it right.`,
      spoils: ['speeds'],
    });
  return found;
}

function barAfterTheEnd(readings: ManualReadings): Contradiction | undefined {
  const km = countedKm(readings);
  const late = readings.barsOut?.find((bar) => km !== undefined && bar.km > (1 + SAME_SHARE) * km + 1);
  if (!late) return undefined;
  return {
    code: 'bar-after-the-end',
    said: say`A bar is noted as gone out at ${qty(late.km, 'km')}, and the ride was ${qty(km!, 'km')} long. Where bars went out is left aside; put it right.`,
    spoils: ['bars-out'],
  };
}

function peakBelowMean({ meanHeartRateBpm: mean, peakHeartRateBpm: peak }: ManualReadings): Contradiction | undefined {
  if (mean === undefined || peak === undefined || peak >= mean) return undefined;
  return {
    code: 'peak-below-mean',
    said: say`The highest heart rate, ${qty(peak, 'bpm')}, is below the mean, ${qty(mean, 'bpm')}. Neither is given; put it right.`,
    spoils: ['heart-rate'],
  };
}
