import { say } from '../../units/index.js';
import type { CleaningReport, CleanLog } from '../../logs/index.js';
import { systematic, wheelCircumference } from '../contributions.js';
import { derivationQuantity as qty, fromLimit, makeFigure, type Contribution, type Figure } from '../figure.js';
import type { InstrumentErrors } from '../instrument.js';
import { altitudeWander, levelShare, wanderAtSummits, wanderClimb } from './altitude-wander.js';
import { CLIMB_HYSTERESIS_M, climbedM, climbsOf, smoothProfile } from './climbing.js';
import type { RideDistance } from './ride-distance.js';

/** A track of positions may be so much longer or shorter than the way, as a share. */
const POSITION_LIMIT = 0.01;

/** What the distance's uncertainty is made of, km. */
export function distanceContributions(
  distance: RideDistance,
  instrument: InstrumentErrors,
  { speedComparison }: Pick<CleaningReport, 'speedComparison'> = {},
): Contribution[] {
  const distanceKm = distance.distanceM / 1000;
  const { track } = distance;
  const isApart = speedComparison && (speedComparison.lower > 1 || speedComparison.upper < 1);
  return [
    ...(track && track.noiseUncertaintyM > 0
      ? [{ source: 'noise of the positions taken out', standardUncertainty: track.noiseUncertaintyM / 1000 }]
      : []),
    ...(distance.stepM !== undefined && distance.stepM > 0
      ? [{ source: 'steps of the counter', standardUncertainty: distance.stepM / 1000 / Math.sqrt(6) }]
      : []),
    // Which of the two is right is not known: the wheel counts, and the other lies within what is stated.
    ...(isApart && !track
      ? [systematic('wheel against positions', fromLimit(Math.abs(speedComparison.ratio - 1) * distanceKm))]
      : []),
    distance.source === 'positions'
      ? systematic('position noise', fromLimit(POSITION_LIMIT * distanceKm))
      : wheelCircumference(instrument, distanceKm),
    ...(distance.acrossGapsM > 0
      ? [{ source: 'estimate across gaps', standardUncertainty: distance.uncertaintyAcrossGapsM / 1000 }]
      : []),
  ];
}

export function distanceFigure(
  { timeS }: CleanLog,
  distance: RideDistance,
  contributions: readonly Contribution[],
): Figure {
  const distanceKm = distance.distanceM / 1000;
  return makeFigure({
    key: 'distance',
    label: 'Distance',
    value: distanceKm,
    unit: 'km',
    contributions,
    n: distance.samples,
    formula: {
      'wheel distance': 'last − first reading of the wheel distance',
      'speed over time': '∫ v dt',
      positions: 'Σ great-circle steps, less what the noise of the positions adds',
    }[distance.source],
    substituted: say`${qty(distanceKm, 'km')}`,
    inputs: [distance.source],
    fromS: timeS[0]!,
    toS: timeS.at(-1)!,
  });
}

/** Sum of the rises along the smoothed altitude, m; undefined where the log has too few readings of it. */
export function climbedFigure(
  { timeS, channels, hasClock }: CleanLog,
  distance: RideDistance,
  instrument: InstrumentErrors,
): Figure | undefined {
  const profile = channels.altitude && smoothProfile(distance.cumulativeM, channels.altitude);
  if (!profile) return undefined;
  const wander = hasClock ? altitudeWander(timeS, channels.altitude!) : 0;
  const level = levelShare(timeS, channels.altitude!, wander);
  const { hysteresisM, spuriousM } = wanderClimb(wander, level * (timeS.at(-1)! - timeS[0]!), CLIMB_HYSTERESIS_M);
  const { totalM: seen, climbs } = climbsOf(profile.altitudeM, hysteresisM);
  // Where the road is level all of what the wander makes stands in the sum, where it only seems so next to none: the half, give or take it.
  const gain = Math.max(0, seen - spuriousM / 2);
  const sensitivity =
    Math.abs(climbedM(profile.altitudeM, hysteresisM - 1) - climbedM(profile.altitudeM, hysteresisM + 1)) / 2;
  return makeFigure({
    key: 'climbed',
    label: 'Climbed',
    value: gain,
    unit: 'm',
    n: profile.distanceM.length,
    contributions: [
      { source: 'choice of hysteresis', standardUncertainty: fromLimit(sensitivity) },
      ...(spuriousM > 0.5
        ? [{ source: 'wander of the altitude', standardUncertainty: fromLimit(Math.max(seen - gain, spuriousM / 2)) }]
        : []),
      ...(wander > 0.001
        ? [{ source: 'wander of the altitude at the summits', standardUncertainty: wanderAtSummits(wander, climbs) }]
        : []),
      systematic('altitude sensor', fromLimit(instrument.altitudeM)),
    ],
    formula:
      'sum of rises above the hysteresis along the altitude smoothed over 50 m, less half of what its wander adds',
    substituted: say`${qty(seen, 'm')} above ${qty(hysteresisM, 'm')} − ½ · ${qty(spuriousM, 'm')} = ${qty(gain, 'm')}`,
    inputs: ['altitude', distance.source],
    fromS: timeS[0]!,
    toS: timeS.at(-1)!,
  });
}
