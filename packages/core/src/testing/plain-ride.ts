import { seededRandom, standardNormal, type Random } from '../numeric/index.js';

/** What a bike did, ten times a second: nothing of the ride model is in it. SI; current in A, voltage in V. */
export interface PlainRide {
  readonly stepS: number;
  readonly timeS: number[];
  readonly speedMps: number[];
  readonly wayM: number[];
  readonly eastM: number[];
  readonly northM: number[];
  readonly volts: number[];
  readonly amps: number[];
  readonly truth: {
    readonly distance: number;
    readonly energyOut: number;
    readonly netConsumption: number;
    readonly movingTime: number;
  };
}

/** Rides of ten minutes or more with stops and bends; parameters drawn. */
export function plainRide(random: Random): PlainRide {
  const stepS = 0.1;
  const between = (low: number, high: number): number => low + (high - low) * random();
  const [massKg, drag, rolling] = [between(85, 130), between(0.45, 0.75), between(0.006, 0.011)];
  const [restV, ohm, efficiency, idleW] = [between(40, 54), between(0.06, 0.14), between(0.7, 0.85), between(3, 9)];
  const cruise = between(5, 8.5);
  const ride = { timeS: [], speedMps: [], wayM: [], eastM: [], northM: [], volts: [], amps: [] } as {
    [K in 'amps' | 'eastM' | 'northM' | 'speedMps' | 'timeS' | 'volts' | 'wayM']: number[];
  };
  let [v, way, heading, turn, t, usedJ, movingS, east, north] = [0, 0, between(0, 6), 0, 0, 0, 0, 0, 0];
  let [phase, until, wanted] = ['stand', between(4, 15), 0];
  const end = between(600, 900);
  let charge = 0;
  while (t < end) {
    if (t > until) {
      if (phase === 'ride') [phase, until] = ['brake', Infinity];
      else if (phase === 'stand') [phase, until, wanted] = ['ride', t + between(40, 150), cruise * between(0.85, 1.15)];
    }
    if (phase === 'brake' && v < 0.05) [phase, until, v] = ['stand', t + between(5, 40), 0];
    const resistance = v > 0 ? 0.6 * drag * v * v + massKg * 9.81 * rolling : 0;
    const wish = phase === 'ride' ? Math.min(1.1, Math.max(-0.4, 0.5 * (wanted + 0.4 * Math.sin(t / 7) - v))) : 0;
    const pull = phase === 'ride' ? Math.max(0, massKg * wish + resistance) : 0;
    const electricW = idleW + Math.min(700, (pull * v) / efficiency + 0.15 * pull);
    const amps = (restV - Math.sqrt(restV ** 2 - 4 * ohm * electricW)) / (2 * ohm);
    const volts = restV - 0.15 * charge - ohm * amps;
    ride.timeS.push(t);
    ride.speedMps.push(v);
    ride.wayM.push(way);
    ride.eastM.push(east);
    ride.northM.push(north);
    ride.volts.push(volts);
    ride.amps.push(amps);
    usedJ += volts * amps * stepS;
    charge += (amps * stepS) / 3600;
    if (v > 0.5) movingS += stepS;
    const acceleration = phase === 'brake' ? -1.4 : phase === 'ride' ? (pull - resistance) / massKg : 0;
    const next = Math.max(0, v + acceleration * stepS);
    way += ((v + next) / 2) * stepS;
    // Bends of ten metres and more that last some seconds, long straights and slow curves between.
    if (turn !== 0 ? random() < 0.04 : random() < 0.006)
      turn = turn !== 0 ? 0 : between(-1, 1) / (random() < 0.5 ? 10 : 80);
    heading += turn * v * stepS;
    east += Math.sin(heading) * v * stepS;
    north += Math.cos(heading) * v * stepS;
    v = next;
    t += stepS;
  }
  const energyOut = usedJ / 3600;
  const distance = way / 1000;
  return { stepS, ...ride, truth: { distance, energyOut, netConsumption: energyOut / distance, movingTime: movingS } };
}

export interface PlainLogger {
  /** Gains drawn within the limits that are stated for an ordinary logger. */
  readonly speed: number;
  readonly volts: number;
  readonly amps: number;
  readonly noise: () => number;
}
export function plainLogger(random: Random): PlainLogger {
  const within = (limit: number): number => 1 + limit * (2 * random() - 1);
  return { speed: within(0.004), volts: within(0.004), amps: within(0.008), noise: () => standardNormal(random) };
}

/** Row indices at a rate. */
export function rowsOf(ride: PlainRide, everyS: number): number[] {
  const every = Math.round(everyS / ride.stepS);
  return ride.timeS.flatMap((_, k) => (k % every === 0 ? [k] : []));
}

/** Wander with a memory, m: as positions and altitudes of phones do. */
export function wander(random: Random, count: number, stepS: number, sizeM: number, memoryS: number): number[] {
  const keep = Math.exp(-stepS / memoryS);
  let at = sizeM * standardNormal(random);
  return Array.from({ length: count }, () => {
    at = keep * at + sizeM * Math.sqrt(1 - keep * keep) * standardNormal(random);
    return at;
  });
}

export { seededRandom };
