import {
  calibrate,
  rideRecord,
  trustOf,
  type Calibration,
  type KnownOfBike,
  type RideRecord,
  type Scenario,
  type Trust,
} from '../forecast/index.js';
import { cleanLog, readLog } from '../logs/index.js';
import { seededRandom, standardNormal, type Random } from '../numeric/index.js';
import { airDensityKgPerM3 } from '../physics/index.js';
import { drawBike, drawWay, hill, rideTruly, trueLogCsv, type TrueBike, type TrueRide } from './forecast-bike.js';

/** How rides are logged: with throttle and rider's power, or a pedelec of whose rider one was only told. */
export type Style = 'throttle' | 'pedelec';
export interface TrueCase {
  readonly calibration: Calibration;
  readonly trust: Trust;
  readonly known: KnownOfBike;
  readonly records: readonly RideRecord[];
  readonly scenario: Scenario;
  readonly truth: TrueRide;
}

const HELP_ENDS_KMH = 25;

/** Six rides of a bike drawn by a seed, read and calibrated on, and a seventh that nobody saw: another load, way and air. */
export function trueCase(seed: number, law: TrueBike['law'], style: Style): TrueCase {
  const random = seededRandom(seed);
  const between = (low: number, high: number): number => low + (high - low) * random();
  const isThrottle = style === 'throttle';
  const bike = { ...drawBike(random, law), ...(!isThrottle && { speedLimitMps: HELP_ENDS_KMH / 3.6 }) };
  const massKg = between(90, 120);
  const records = Array.from({ length: 6 }, (_, k) => riddenOnce(random, bike, massKg, k, isThrottle));
  const known: KnownOfBike = {
    seriesCells: bike.cells,
    nominalVoltageV: bike.cells * 3.6,
    capacityAh: bike.labelAh,
    ...(!isThrottle && { speedLimitMps: HELP_ENDS_KMH / 3.6 }),
  };
  const airC = between(2, 26);
  const way =
    random() < 0.4 ? hill(between(600, 1800), between(0.02, 0.08)) : drawWay(random, between(1500, 10_000), 0.035);
  const [massTo, riderW, demand, targetKmh] = [
    massKg * between(0.8, 1.25),
    between(60, 120),
    between(0.5, 1),
    between(19, 24),
  ];
  const density = airDensityKgPerM3(airC);
  const truth = rideTruly(
    random,
    bike,
    way,
    { massKg: massTo, airC, density, windMps: 0.3 * standardNormal(random), gustMps: 0.8, startShare: 0.95 },
    {
      demand: () => (isThrottle ? demand : 1),
      targetMps: isThrottle ? Infinity : targetKmh / 3.6,
      riderW,
      riderWaver: 0.1,
    },
  );
  return {
    calibration: calibrate(records, known),
    trust: trustOf(records, known),
    known,
    records,
    truth,
    scenario: {
      profile: way.distanceM.map((distanceM, k) => ({ distanceM, altitudeM: way.altitudeM[k]! })),
      totalMassKg: massTo,
      airDensity: density,
      airTemperatureC: airC,
      windMps: 0,
      startShare: 0.95,
      riding: { riderPowerW: riderW, ...(isThrottle ? { demand } : { targetSpeedKmh: targetKmh }) },
    },
  };
}

function riddenOnce(random: Random, bike: TrueBike, massKg: number, k: number, isThrottle: boolean): RideRecord {
  const between = (low: number, high: number): number => low + (high - low) * random();
  const airC = between(8, 22);
  const windMps = 0.8 * standardNormal(random);
  const way = k < 4 ? drawWay(random, between(2000, 5000), 0.03) : hill(between(800, 1500), between(0.03, 0.06));
  const [phase, pace, riderW] = [between(0, 6), between(30, 90), between(50, 130)];
  const ride = rideTruly(
    random,
    bike,
    way,
    { massKg, airC, density: airDensityKgPerM3(airC), windMps, gustMps: 0.8, startShare: between(0.85, 0.98) },
    {
      demand: (t) => (isThrottle ? Math.min(1, Math.max(0.2, 0.65 + 0.35 * Math.sin(phase + t / pace))) : 1),
      targetMps: isThrottle ? Infinity : between(19, 24) / 3.6,
      riderW,
      riderWaver: 0.15,
    },
  );
  const csv = trueLogCsv(ride, { throttle: isThrottle, rider: isThrottle, altitude: true });
  const raw = readLog(new TextEncoder().encode(csv));
  const log = raw.ok ? cleanLog(raw.value) : raw;
  if (!log.ok) throw new Error(log.problem.message);
  return rideRecord(log.value, {
    name: `ride ${k + 1}`,
    totalMassKg: massKg,
    airTemperatureC: airC,
    windMps: windMps + 0.3 * standardNormal(random),
    ...(!isThrottle && { riderPowerW: riderW * (1 + 0.15 * standardNormal(random)) }),
  })!;
}

const RESERVE = 0.15;
const LAP_M = 6000;
const LAPS = 40;

/** The same, asked for its range on a round that comes back, and ridden round after round until the pack was empty. */
export function rangeCase(
  seed: number,
  law: TrueBike['law'],
  style: Style,
): Pick<TrueCase, 'calibration' | 'scenario' | 'trust'> & {
  readonly emptied: { readonly rangeWithReserve: number; readonly rangeToCutoff: number };
} {
  const { calibration, trust, scenario } = trueCase(seed, law, style);
  // The bike is what the seed draws first.
  const bike = {
    ...drawBike(seededRandom(seed), law),
    ...(style === 'pedelec' && { speedLimitMps: HELP_ENDS_KMH / 3.6 }),
  };
  const random = seededRandom(seed + 1);
  const out = drawWay(random, LAP_M / 2, 0.02);
  const home = [...out.altitudeM].reverse().slice(1);
  const lap = {
    distanceM: [...out.distanceM, ...out.distanceM.slice(1).map((distanceM) => distanceM + LAP_M / 2)],
    altitudeM: [...out.altitudeM, ...home],
  };
  const on = Array.from({ length: LAPS }, (_, k) => k).flatMap((k) =>
    lap.distanceM.slice(1).map((distanceM, j) => [k * LAP_M + distanceM, lap.altitudeM[j + 1]!] as const),
  );
  const asked: Scenario = {
    ...scenario,
    profile: lap.distanceM.map((distanceM, k) => ({ distanceM, altitudeM: lap.altitudeM[k]! })),
    reserveShare: RESERVE,
  };
  const { targetSpeedKmh, demand = 1, riderPowerW } = asked.riding;
  const everyS = 2;
  const { rows } = rideTruly(
    random,
    bike,
    { distanceM: [0, ...on.map(([d]) => d)], altitudeM: [lap.altitudeM[0]!, ...on.map(([, h]) => h)] },
    {
      massKg: asked.totalMassKg,
      airC: asked.airTemperatureC!,
      density: asked.airDensity!,
      windMps: 0.2 * standardNormal(random),
      gustMps: 0.8,
      startShare: asked.startShare,
    },
    {
      demand: () => demand,
      targetMps: targetSpeedKmh === undefined ? Infinity : targetSpeedKmh / 3.6,
      riderW: riderPowerW!,
      riderWaver: 0.1,
    },
    everyS,
    60_000,
  );
  let [usedAh, low, reserve, cutoff] = [0, 0, NaN, NaN];
  for (const [, , s, , , volts, amps] of rows) {
    usedAh += (amps * everyS) / 3600;
    if (asked.startShare - usedAh / bike.capacityAh <= RESERVE && Number.isNaN(reserve)) reserve = s / 1000;
    low = volts < 3 * bike.cells ? low + 1 : 0;
    if (low === 2 && Number.isNaN(cutoff)) cutoff = s / 1000;
  }
  const end = rows.at(-1)![2] / 1000;
  return {
    calibration,
    trust,
    scenario: asked,
    emptied: {
      rangeWithReserve: Number.isNaN(reserve) ? end : reserve,
      rangeToCutoff: Number.isNaN(cutoff) ? end : cutoff,
    },
  };
}
