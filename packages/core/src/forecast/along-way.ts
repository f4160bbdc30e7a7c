import type { PathColumns } from './path.js';
import type { Scenario } from './scenario.js';
import { middle95 } from './middle-95.js';

/** Along the way: the most probable ride, and the band that holds 95 in 100. */
export interface ForecastPoint {
  readonly distanceM: number;
  readonly altitudeM: number;
  readonly speedKmh: number;
  readonly powerW: number;
  readonly chargeLeftShare: number;
  readonly chargeBand: readonly [number, number];
  readonly motorTemperatureC: number;
  readonly temperatureBand: readonly [number, number];
  /** Only where rides showed it. */
  readonly controllerTemperatureC?: number;
  readonly controllerBand?: readonly [number, number];
}

/** Columns to be filled at even distances. */
export function emptyColumns(lengthM: number, points: number): PathColumns {
  const column = (): Float64Array => new Float64Array(points + 1).fill(NaN);
  return {
    everyM: lengthM / points,
    timeS: column(),
    speedMps: column(),
    powerW: column(),
    voltageV: column(),
    share: column(),
    motorC: column(),
    controllerC: column(),
    energyJ: column(),
  };
}

/** A drawn ride along its way, and how far its charge used and its rise are off beside: what a picture and this bike's own checks missed. */
export interface DrawnWay {
  readonly columns: PathColumns;
  /** Shares of what is used, and of the rise above the start. */
  readonly usedOff: number;
  readonly riseOff: number;
  /** The same of the controller's rise. */
  readonly controllerOff: number;
}

/** The most probable ride along its way, with bands of the drawn ones; it ends where that ride ends. */
export function alongOf(
  middle: PathColumns,
  drawn: readonly DrawnWay[],
  { profile, startShare }: Scenario,
  { hasController, riseWithin }: { readonly hasController: boolean; readonly riseWithin: number },
): ForecastPoint[] {
  const first = profile[0]!.distanceM;
  let segment = 1;
  const altitudeAt = (distanceM: number): number => {
    while (segment < profile.length - 1 && profile[segment]!.distanceM - first < distanceM) segment++;
    const [a, b] = [profile[segment - 1]!, profile[segment]!];
    return (
      a.altitudeM + ((b.altitudeM - a.altitudeM) * (distanceM - (a.distanceM - first))) / (b.distanceM - a.distanceM)
    );
  };
  const band = (of: (way: DrawnWay) => number, centre: number): readonly [number, number] => {
    const values = drawn.map(of).filter((value) => !Number.isNaN(value));
    return values.length === 0 ? [centre, centre] : middle95(values, centre);
  };
  const points: ForecastPoint[] = [];
  for (let k = 0; k < middle.timeS.length; k++) {
    if (Number.isNaN(middle.timeS[k]!)) break;
    points.push({
      distanceM: k * middle.everyM,
      altitudeM: altitudeAt(k * middle.everyM),
      speedKmh: middle.speedMps[k]! * 3.6,
      powerW: middle.powerW[k]!,
      chargeLeftShare: middle.share[k]!,
      // As the figure: from the charge that was stated.
      chargeBand: band(
        ({ columns: { share }, usedOff }) => startShare - (share[0]! - share[k]!) * (1 + usedOff),
        middle.share[k]!,
      ),
      motorTemperatureC: middle.motorC[k]!,
      temperatureBand: band(({ columns: { motorC }, riseOff }) => {
        const middleC = middle.motorC[k]!;
        return middleC + riseWithin * (motorC[k]! - middleC) + (motorC[k]! - motorC[0]!) * riseOff;
      }, middle.motorC[k]!),
      ...(hasController && {
        controllerTemperatureC: middle.controllerC[k]!,
        controllerBand: band(
          ({ columns: { controllerC }, controllerOff }) =>
            controllerC[k]! + (controllerC[k]! - controllerC[0]!) * controllerOff,
          middle.controllerC[k]!,
        ),
      }),
    });
  }
  return points;
}
