import { electricalPower, rideDistance } from '../analysis/index.js';
import type { CleanLog } from '../logs/index.js';
import { airDensityKgPerM3 } from '../physics/index.js';

/** What is known of a ride beside its log. SI, °C. */
export interface RideFacts {
  readonly name: string;
  /** Rides of one outing share their day. */
  readonly outing?: string;
  readonly totalMassKg: number;
  readonly airDensity?: number;
  readonly airTemperatureC?: number;
  /** Mean head wind along the ride as ridden. */
  readonly windMps?: number;
  /** Of a ride that came round: the wind's strength, whose part along the way turned with it. */
  readonly windRoundMps?: number;
  /** How far that may be off; absent: what is usual for a wind that was stated, or was not. */
  readonly windDoubtMps?: number;
  /** Ridden as people ride, so that a forecast of it can be checked; a test of brakes or sensors cannot. */
  readonly isOrdinary?: boolean;
  /** False on a stand: the wheel turned free, and what it says of the pack is all that it says. */
  readonly isOnRoad?: boolean;
  /** The rider's mean power while pedalling, where no sensor wrote it. */
  readonly riderPowerW?: number;
  /** Rise from start to end where the log has no altitude; absent: unknown. */
  readonly gainM?: number;
}

/** A ride in steps of a second, means within each; NaN where nothing was logged. SI, °C; shares 0–1. */
export interface RideRecord {
  readonly facts: RideFacts & { readonly airDensity: number; readonly airTemperatureC: number };
  readonly airTemperatureIsKnown: boolean;
  readonly count: number;
  readonly speedMps: Float64Array;
  readonly distanceM: Float64Array;
  /** Empty where the log has none. */
  readonly altitudeM: Float64Array;
  readonly powerW: Float64Array;
  readonly voltageV: Float64Array;
  readonly currentA: Float64Array;
  readonly throttle: Float64Array;
  readonly level: Float64Array;
  readonly cadenceRpm: Float64Array;
  readonly riderW: Float64Array;
  readonly motorC: Float64Array;
  readonly controllerC: Float64Array;
  readonly isBraking: Uint8Array;
  /** Made of a ride's figures: what happened within it nobody wrote. */
  readonly isSummary?: true;
}

/** Of a rider of whom nothing is known, W while pedalling; and how far that may be off, σ of the logarithm. */
export const UNSAID_RIDER = { watts: 70, sd: 0.7 } as const;

/** How a ride's rider is known: by a sensor, by word, or not at all. */
export function riderKnownBy({ riderW, facts }: Pick<RideRecord, 'facts' | 'riderW'>): 'log' | 'word' | 'nothing' {
  if (riderW.some((value) => !Number.isNaN(value))) return 'log';
  return facts.riderPowerW === undefined ? 'nothing' : 'word';
}

/** What a display and a notebook tell of a ride. */
export interface RideFigures {
  readonly distanceM: number;
  readonly movingS: number;
  readonly energyWh: number;
}

/** A ride of which only distance, time and energy are known, as if it had been ridden evenly. Undefined where they are no ride. */
export function summaryRecord({ distanceM, movingS, energyWh }: RideFigures, facts: RideFacts): RideRecord | undefined {
  const count = Math.min(MOST_SECONDS, Math.round(movingS));
  if (!(distanceM > 200) || !(count > 60) || !(energyWh > 0)) return undefined;
  const even = (value: number): Float64Array => new Float64Array(count).fill(value);
  const nothing = even(NaN);
  const airTemperatureC = facts.airTemperatureC ?? USUAL_AIR_C;
  return {
    facts: { ...facts, airTemperatureC, airDensity: facts.airDensity ?? airDensityKgPerM3(airTemperatureC) },
    airTemperatureIsKnown: facts.airTemperatureC !== undefined,
    count,
    speedMps: even(distanceM / count),
    distanceM: Float64Array.from({ length: count }, (_, k) => (distanceM * k) / (count - 1)),
    altitudeM: Float64Array.from({ length: count }, (_, k) => ((facts.gainM ?? 0) * k) / (count - 1)),
    powerW: even((energyWh * 3600) / count),
    voltageV: nothing,
    currentA: nothing,
    throttle: nothing,
    level: nothing,
    cadenceRpm: nothing,
    riderW: nothing,
    motorC: nothing,
    controllerC: nothing,
    isBraking: new Uint8Array(count),
    isSummary: true,
  };
}

/** No more seconds than this are looked at of one ride. */
const MOST_SECONDS = 6 * 3600;
const USUAL_AIR_C = 15;
/** Slowing harder than this is braking, m/s². */
const BRAKING_MPS2 = -0.75;

/**
 * A cleaned log in steps of a second. Undefined where it has no clock, no distance or speed, or lasts under ten seconds.
 *
 * Gaps stay gaps: a second in which nothing was logged is NaN in every column.
 */
export function rideRecord(log: CleanLog, facts: RideFacts): RideRecord | undefined {
  if (!log.hasClock) return undefined;
  const distance = rideDistance(log);
  const endS = log.timeS.at(-1)!;
  if (!distance || endS < 10) return undefined;
  const count = Math.min(MOST_SECONDS, Math.floor(endS));
  const { channels } = log;
  const binned = (values: Float64Array | undefined): Float64Array => binMeans(log.timeS, values, count);
  const distanceM = atSeconds(log.timeS, distance.cumulativeM, count);
  const speedMps = channels.speed ? binned(channels.speed) : differences(distanceM);
  const air = channels.airTemperature ? meanOf(channels.airTemperature) : undefined;
  const airTemperatureC = facts.airTemperatureC ?? air ?? USUAL_AIR_C;
  return {
    facts: { ...facts, airTemperatureC, airDensity: facts.airDensity ?? airDensityKgPerM3(airTemperatureC) },
    airTemperatureIsKnown: facts.airTemperatureC !== undefined || air !== undefined,
    count,
    speedMps,
    distanceM,
    altitudeM: channels.altitude ? binned(channels.altitude) : new Float64Array(0),
    powerW: powerOf(log, count),
    voltageV: binned(channels.voltage),
    currentA: binned(channels.current),
    throttle: binned(channels.throttle),
    level: binned(channels.assistLevel),
    cadenceRpm: binned(channels.cadence),
    riderW: binned(channels.riderPower),
    motorC: binned(channels.motorTemperature),
    controllerC: binned(channels.controllerTemperature),
    isBraking: brakingIn(speedMps, binned(channels.brake)),
  };
}

function powerOf(log: CleanLog, count: number): Float64Array {
  const electrical = electricalPower(log.channels);
  if (electrical) return binMeans(log.timeS, electrical.powerW, count);
  const counter = log.channels.energyCounter;
  if (!counter) return new Float64Array(count).fill(NaN);
  // A counter's steps are coarse: its slope over half a minute is what can be believed.
  const at = atSeconds(log.timeS, counter, count);
  return Float64Array.from({ length: count }, (_, k) => {
    const [from, to] = [Math.max(0, k - 15), Math.min(count - 1, k + 15)];
    return (at[to]! - at[from]!) / (to - from);
  });
}

/** Mean in each second; a second without a sample lies on the line between its neighbours when these are at most 3 s apart. */
function binMeans(timeS: Float64Array, values: Float64Array | undefined, count: number): Float64Array {
  const sums = new Float64Array(count);
  const hits = new Float64Array(count);
  if (values)
    for (let k = 0; k < timeS.length; k++) {
      const value = values[k]!;
      const bin = Math.floor(timeS[k]!);
      if (Number.isNaN(value) || bin >= count) continue;
      sums[bin]! += value;
      hits[bin]!++;
    }
  const means = sums.map((sum, k) => (hits[k]! > 0 ? sum / hits[k]! : NaN));
  let last = -1;
  for (let k = 0; k < count; k++) {
    if (Number.isNaN(means[k]!)) continue;
    if (last >= 0 && k - last > 1 && k - last <= 3)
      for (let j = last + 1; j < k; j++)
        means[j] = means[last]! + ((means[k]! - means[last]!) * (j - last)) / (k - last);
    last = k;
  }
  return means;
}

/** Of a growing column, at the middle of each second. */
function atSeconds(timeS: Float64Array, values: Float64Array, count: number): Float64Array {
  const out = new Float64Array(count);
  let k = 1;
  let [beforeS, before] = [timeS[0]!, Number.isNaN(values[0]!) ? 0 : values[0]!];
  for (let second = 0; second < count; second++) {
    const wantedS = second + 0.5;
    while (k < timeS.length && (timeS[k]! < wantedS || Number.isNaN(values[k]!))) {
      if (!Number.isNaN(values[k]!)) [beforeS, before] = [timeS[k]!, values[k]!];
      k++;
    }
    out[second] =
      k < timeS.length && timeS[k]! > beforeS
        ? before + ((values[k]! - before) * Math.max(0, wantedS - beforeS)) / (timeS[k]! - beforeS)
        : before;
  }
  return out;
}

function differences(distanceM: Float64Array): Float64Array {
  const n = distanceM.length;
  return distanceM.map((_, k) => {
    const [from, to] = [Math.max(0, k - 2), Math.min(n - 1, k + 2)];
    return (distanceM[to]! - distanceM[from]!) / Math.max(1, to - from);
  });
}

function brakingIn(speedMps: Float64Array, brake: Float64Array): Uint8Array {
  const n = speedMps.length;
  return Uint8Array.from({ length: n }, (_, k) => {
    const [from, to] = [Math.max(0, k - 1), Math.min(n - 1, k + 1)];
    return brake[k]! > 0.05 || (speedMps[to]! - speedMps[from]!) / Math.max(1, to - from) < BRAKING_MPS2 ? 1 : 0;
  });
}

function meanOf(values: Float64Array): number | undefined {
  let [sum, n] = [0, 0];
  for (const value of values) {
    if (Number.isNaN(value)) continue;
    sum += value;
    n++;
  }
  return n > 0 ? sum / n : undefined;
}
