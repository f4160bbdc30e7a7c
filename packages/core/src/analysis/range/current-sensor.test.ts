import { Coverage, ridesOf } from '../../testing/coverage.js';
import { plainLogger, plainRide, seededRandom, type PlainRide } from '../../testing/plain-ride.js';
import { logOfColumns } from '../../testing/test-logs.js';
import { analyseRange } from './analyse-range.js';

const RIDES = 30;
type Random = () => number;
const between = (random: Random, low: number, high: number): number => low + (high - low) * random();

/** The volts of a ride on a pack that also gives way slowly. */
function slowly(random: Random, { volts, amps, stepS }: PlainRide): number[] {
  const slow = [
    { ohm: between(random, 0.01, 0.03), tauS: between(random, 2, 10) },
    { ohm: between(random, 0.01, 0.03), tauS: between(random, 20, 80) },
  ];
  const lagged = slow.map(() => 0);
  return volts.map((v, k) => {
    slow.forEach(({ tauS }, m) => (lagged[m]! += ((amps[k]! - lagged[m]!) * stepS) / tauS));
    return v - slow.reduce((sum, { ohm }, m) => sum + ohm * lagged[m]!, 0);
  });
}

/** A ride as logged at `hz`, its current cut off at a share of the highest, and what really flowed. */
function ridden(random: Random, hz: number, cutShare: number) {
  const ride = plainRide(random);
  const logger = plainLogger(random);
  const volts = slowly(random, ride);
  const end = cutShare * Math.max(...ride.amps);
  const at = (values: readonly number[], t: number): number => values[Math.round(t / ride.stepS)] ?? NaN;
  const log = logOfColumns(Math.floor(ride.timeS.at(-1)!), hz, {
    'speed (km/h)': (t) => 3.6 * logger.speed * at(ride.speedMps, t),
    'voltage (V)': (t) => logger.volts * at(volts, t) + 0.02 * logger.noise(),
    'current (A)': (t) => Math.min(end, logger.amps * at(ride.amps, t) + 0.05 * logger.noise()),
  });
  const until = Math.floor(ride.timeS.at(-1)!) / ride.stepS;
  const sumOf = (of: (k: number) => number): number =>
    ride.timeS.slice(0, until).reduce((sum, _, k) => sum + (of(k) * ride.stepS) / 3600, 0);
  const truth = {
    energyOut: sumOf((k) => volts[k]! * ride.amps[k]!),
    chargeUsed: sumOf((k) => ride.amps[k]!),
  };
  return { log, truth };
}

it.each([
  [1, 0.55],
  [1, 0.8],
  [5, 0.55],
  [5, 0.8],
])(
  '%d samples a second, a current sensor at its end from %d of the highest on: the sag tells the rest',
  (hz, share) => {
    const random = seededRandom(1000 * hz + 100 * share);
    const coverage = new Coverage();
    let said = 0;
    for (let n = 0; n < ridesOf(RIDES); n++) {
      const { log, truth } = ridden(random, hz, share * between(random, 0.95, 1.05));
      const { figures, warnings } = analyseRange(log);
      if (warnings.some(({ code }) => code === 'current-beyond-sensor')) said++;
      coverage.see(figures, truth);
    }
    expect(coverage.of('energyOut').given).toBe(ridesOf(RIDES));
    if (share < 0.6) expect(said).toBeGreaterThan(0.8 * ridesOf(RIDES));
    coverage.expectHeld(`current cut off at ${share} of the highest, ${hz} Hz`);
  },
);

it('a controller that holds its limit hides nothing', () => {
  const random = seededRandom(77);
  for (let n = 0; n < 6; n++) {
    const ohm = between(random, 0.08, 0.15);
    const limit = between(random, 8, 14);
    const amps = (t: number): number => Math.min(limit, Math.max(0.2, 7 + 9 * Math.sin(t / 17) + 2 * Math.sin(t / 3)));
    const noise = plainLogger(random).noise;
    const log = logOfColumns(900, 2, {
      'speed (km/h)': () => 20,
      'voltage (V)': (t) => 50 - t / 900 - ohm * amps(t) + 0.02 * noise(),
      'current (A)': amps,
    });
    const { figures, warnings } = analyseRange(log);
    expect(warnings.map(({ code }) => code)).not.toContain('current-beyond-sensor');
    const charge = figures.find(({ key }) => key === 'chargeUsed')!;
    let truth = 0;
    for (let t = 0; t < 900; t += 0.05) truth += (amps(t) * 0.05) / 3600;
    expect(Math.abs(charge.value / truth - 1)).toBeLessThan(0.002);
  }
});

it.each([0.5, 0.7])(
  'where the voltage does not tell, the interval reaches from nothing to what may be hidden: %d',
  (share) => {
    const random = seededRandom(19 * share);
    const coverage = new Coverage();
    for (let n = 0; n < ridesOf(RIDES); n++) {
      const ride = plainRide(random);
      const logger = plainLogger(random);
      const end = share * Math.max(...ride.amps);
      const at = (values: readonly number[], t: number): number => values[Math.round(t / ride.stepS)] ?? NaN;
      const lastS = Math.floor(ride.timeS.at(-1)!);
      const log = logOfColumns(lastS, 2, {
        'speed (km/h)': (t) => 3.6 * at(ride.speedMps, t),
        // A pack read to two volts.
        'voltage (V)': (t) => 2 * Math.round(at(ride.volts, t) / 2),
        'current (A)': (t) => Math.min(end, logger.amps * at(ride.amps, t) + 0.05 * logger.noise()),
      });
      const chargeUsed = ride.amps.slice(0, lastS / ride.stepS).reduce((sum, a) => sum + (a * ride.stepS) / 3600, 0);
      coverage.see(analyseRange(log).figures, { chargeUsed });
    }
    coverage.expectHeld(`current cut off at ${share}, volts in steps of two`);
  },
);

it.each([
  ['a meter that ends at 300 W', (watts: number) => Math.min(300, watts), (watts: number) => watts],
  ['a drive that is held to 300 W', (watts: number) => Math.min(300, watts), (watts: number) => Math.min(300, watts)],
])('without volts %s has its energy held', (_what, shown, flows) => {
  const watts = (t: number): number => Math.max(5, 200 + 200 * Math.sin(t / 11) + 17 * Math.sin(t / 1.7));
  const log = logOfColumns(900, 2, { 'speed (km/h)': () => 20, 'power (W)': (t) => shown(watts(t)) });
  const { figures, warnings } = analyseRange(log);
  let truth = 0;
  for (let t = 0; t < 900; t += 0.05) truth += (flows(watts(t)) * 0.05) / 3600;
  const [low, high] = figures.find(({ key }) => key === 'energyOut')!.interval95;
  expect([low <= truth, truth <= high]).toEqual([true, true]);
  expect(warnings.map(({ code }) => code)).toContain('current-beyond-sensor');
});

it('a sensor stuck at its highest reading still counts for nothing, whether volts tell or not', () => {
  for (const isVoltCoarse of [false, true]) {
    const noise = plainLogger(seededRandom(5)).noise;
    const amps = (t: number): number => 6 + 4 * Math.sin(t / 9);
    const log = logOfColumns(1200, 2, {
      'speed (km/h)': (t) => 20 + Math.sin(t / 7),
      'voltage (V)': (t) => (isVoltCoarse ? 48 : 50 - 0.1 * amps(t) + 0.01 * noise()),
      // It stands at 15 A for three minutes while the ride goes on as before.
      'current (A)': (t) => (t > 600 && t < 780 ? 15 : amps(t) + 0.02 * noise()),
    });
    const charge = analyseRange(log).figures.find(({ key }) => key === 'chargeUsed')!;
    const truth = (6 * 1200) / 3600;
    expect([isVoltCoarse, Math.abs(charge.value / truth - 1) < 0.06]).toEqual([isVoltCoarse, true]);
    const [low, high] = charge.interval95;
    expect([isVoltCoarse, low < truth && truth < high]).toEqual([isVoltCoarse, true]);
  }
});

/** Braking that feeds back now and then, seen through a current sensor with a noise of its own. */
it.each([0.05, 0.3, 1])('what is fed back is told through a noise of %d A where the throttle rests', (noiseA) => {
  const random = seededRandom(100 * noiseA);
  const coverage = new Coverage();
  for (let n = 0; n < ridesOf(RIDES); n++) {
    const logger = plainLogger(random);
    const cycleS = between(random, 40, 70);
    const brakeS = between(random, 3, 8);
    const back = between(random, 3, 6);
    const drive = between(random, 4, 9);
    const restS = between(random, 5, 12);
    const [offset, hz] = [between(random, 0, 1), 5];
    const phase = (t: number): number => (t + offset) % cycleS;
    const isBraking = (t: number): boolean => phase(t) > cycleS - restS - brakeS && phase(t) < cycleS - restS;
    const isDriven = (t: number): boolean => phase(t) <= cycleS - restS - brakeS;
    const amps = (t: number): number =>
      isBraking(t) ? -back : isDriven(t) ? drive * (1 + 0.4 * Math.sin(t / 2.3)) : 0.15;
    const log = logOfColumns(900, hz, {
      'speed (km/h)': (t) => (isDriven(t) ? 22 : isBraking(t) ? 14 : 0),
      'throttle (%)': (t) => (isDriven(t) ? 60 + 20 * Math.sin(t / 2.3) : 0),
      'voltage (V)': (t) => logger.volts * (50 - 0.1 * amps(t)),
      'current (A)': (t) => logger.amps * amps(t) + noiseA * logger.noise(),
    });
    let energyRegenerated = 0;
    for (let t = 0; t < 900; t += 0.01)
      if (amps(t) < 0) energyRegenerated -= ((50 - 0.1 * amps(t)) * amps(t) * 0.01) / 3600;
    const { figures } = analyseRange(log);
    coverage.see(figures, { energyRegenerated });
    const figure = figures.find(({ key }) => key === 'energyRegenerated')!;
    // An answer, not a span that holds anything.
    expect(figure.standardUncertainty).toBeLessThan(0.1 * energyRegenerated);
  }
  coverage.expectHeld(`fed back, sensor noise ${noiseA} A`);
});
