import { chargeAtRest } from '../battery/index.js';
import type { Calibration } from './calibrate.js';
import { pathProfile, type PathProfile, type PathRiding, type RidingAlong } from './path.js';
import { mean } from '../numeric/index.js';
import { atEnd } from './motion-blocks.js';
import { riderKnownBy, UNSAID_RIDER, type RideRecord } from './ride-record.js';

const CELL_M = 10;
const LEAST_M = 300;

export interface AsRidden {
  readonly way: PathProfile;
  readonly riding: PathRiding;
  readonly along: RidingAlong;
  readonly startShare: number;
  readonly startC: number;
  readonly startMps: number;
  readonly energyWh: number;
  readonly movingS: number;
  readonly riseK: number | undefined;
  readonly isByThrottle: boolean;
  readonly riderIsLogged: boolean;
}

/** A ride as a path would repeat it: its way, and throttle or speed along it. Undefined where it is too short or has no power. */
export function asRidden(record: RideRecord, { fixed, priors, parts }: Calibration): AsRidden | undefined {
  const {
    count,
    distanceM,
    speedMps,
    powerW,
    throttle,
    riderW,
    altitudeM,
    voltageV,
    currentA,
    motorC,
    isBraking,
    facts,
  } = record;
  const lengthM = distanceM.at(-1)! - distanceM[0]!;
  let [energyJ, missing, movingS] = [0, 0, 0];
  for (let k = 0; k < count; k++) {
    if (Number.isNaN(powerW[k]!)) missing++;
    else if (powerW[k]! > 0) energyJ += powerW[k]!;
    if (speedMps[k]! > 0.5) movingS++;
  }
  if (
    facts.isOrdinary === false ||
    facts.isOnRoad === false ||
    lengthM < LEAST_M ||
    missing > 0.02 * count ||
    energyJ <= 0
  )
    return undefined;
  const cells = Math.ceil(lengthM / CELL_M);
  const byCell = (values: Float64Array, otherwise: number): Float64Array => {
    const sums = new Float64Array(cells);
    const hits = new Float64Array(cells);
    for (let k = 0; k < count; k++) {
      if (Number.isNaN(values[k]!) || !(speedMps[k]! > 0.3)) continue;
      const cell = Math.min(cells - 1, Math.floor((distanceM[k]! - distanceM[0]!) / CELL_M));
      sums[cell]! += values[k]!;
      hits[cell]!++;
    }
    let last = otherwise;
    return sums.map((sum, cell) => (last = hits[cell]! > 0 ? sum / hits[cell]! : last));
  };
  const isByThrottle = throttle.filter((value) => !Number.isNaN(value)).length > 0.9 * count;
  const riderIsLogged = riderKnownBy(record) === 'log';
  const slow = byCell(speedMps, 5);
  const braked = byCell(Float64Array.from(isBraking), 0);
  const targetMps = slow.map((v, cell) =>
    !isByThrottle || braked[cell]! > 0.5 || v < 2 ? Math.max(0.8, v) : Infinity,
  );
  const packAt = parts.find(({ names }) => names.includes('packResistance'));
  const ohm = packAt ? Math.exp(packAt.estimate[packAt.names.indexOf('packResistance')]!) : priors.packResistance.value;
  const offset = packAt ? packAt.estimate[packAt.names.indexOf('cellOffset')]! : 0;
  const firstV = voltageV.findIndex((value, k) => value > 5 && !Number.isNaN(currentA[k]!));
  const startShare =
    firstV < 0
      ? 0.9
      : chargeAtRest(fixed.chemistry, (voltageV[firstV]! + ohm * currentA[firstV]!) / fixed.seriesCells - offset);
  const temperatures = Array.from(motorC).filter((value) => !Number.isNaN(value));
  const startC =
    temperatures.length > 20
      ? atEnd(Float64Array.from(temperatures), 0, 1, temperatures.length, 10)
      : facts.airTemperatureC;
  return {
    way: wayRidden(record, lengthM, altitudeM),
    riding: {
      demand: 1,
      targetMps: Infinity,
      riderW: facts.riderPowerW ?? UNSAID_RIDER.watts,
      stopsM: [],
      dwellS: 0,
      rampS: 0.6,
    },
    along: {
      everyM: CELL_M,
      targetMps,
      ...(isByThrottle && { demand: byCell(throttle, 0.5) }),
      ...(riderIsLogged && { riderW: byCell(riderW, 0) }),
    },
    startShare: Math.min(1, Math.max(0.2, startShare)),
    startC,
    startMps: Math.max(0, speedMps[0]! || 0),
    energyWh: energyJ / 3600,
    movingS,
    riseK: temperatures.length > 60 ? peakOf(temperatures) - startC : undefined,
    isByThrottle,
    riderIsLogged,
  };
}

/** Altitude smoothed over some fifty metres, a point every 40 m. */
function wayRidden({ count, distanceM }: RideRecord, lengthM: number, altitudeM: Float64Array): PathProfile {
  const pieces = Math.max(2, Math.round(lengthM / 40));
  const sums = new Float64Array(pieces + 1);
  const hits = new Float64Array(pieces + 1);
  for (let k = 0; k < count; k++) {
    const height = altitudeM[k];
    if (height === undefined || Number.isNaN(height)) continue;
    const at = Math.round(((distanceM[k]! - distanceM[0]!) / lengthM) * pieces);
    sums[at]! += height;
    hits[at]!++;
  }
  let last = sums.find((_, k) => hits[k]! > 0) === undefined ? 0 : sums[firstHit(hits)]! / hits[firstHit(hits)]!;
  return pathProfile(
    Array.from({ length: pieces + 1 }, (_, k) => {
      if (hits[k]! > 0) last = sums[k]! / hits[k]!;
      return { distanceM: (k * lengthM) / pieces, altitudeM: last };
    }),
  );
}

function firstHit(hits: Float64Array): number {
  return hits.findIndex((n) => n > 0);
}

/** Highest ten-second mean: one noisy sample is no peak. */
function peakOf(values: readonly number[]): number {
  let peak = -Infinity;
  for (let k = 0; k + 10 <= values.length; k += 5) peak = Math.max(peak, mean(values.slice(k, k + 10)));
  return peak;
}
