import { coastedLog, inTurns } from '../../testing/coasted-log.js';
import { Coverage, ridesOf } from '../../testing/coverage.js';
import { logOfColumns } from '../../testing/test-logs.js';
import { plainLogger, seededRandom } from '../../testing/plain-ride.js';
import { analyseCoasts } from './analyse-coasts.js';

const STRIPS = 16;

/** Six coasts there and back by small steps, each ended by a hard brake just above walking pace; wind in gusts where asked. */
function coasts(random: () => number, noise: () => number, gustMps: number) {
  const between = (low: number, high: number): number => low + (high - low) * random();
  const truth = { cda: between(0.4, 0.7), crr: between(0.005, 0.012), wind: between(-1.5, 1.5) };
  const [massKg, slope, step] = [between(85, 125), between(-0.002, 0.002), 0.02];
  const [speed, amps]: [number[], number[]] = [[], []];
  let gust = 0;
  for (let coast = 0; coast < 6; coast++) {
    const direction = coast % 2 === 0 ? 1 : -1;
    let v = 0;
    const go = (force: number, current: number): void => {
      const air = v + direction * truth.wind + gust;
      const drag = 0.6 * truth.cda * air * Math.abs(air);
      const resistance = v > 0 ? drag + massKg * 9.80665 * (truth.crr + direction * slope) : 0;
      v = Math.max(0, v + ((force - resistance) / (1.02 * massKg)) * step);
      gust = gust * Math.exp(-step / 4) + gustMps * Math.sqrt(1 - Math.exp((-2 * step) / 4)) * noise();
      speed.push(v);
      amps.push(current);
    };
    while (v < 8.5) go(150, 8);
    while (v > 2) go(0, 0.05);
    while (v > 0) go(-250, 0.05);
    for (let k = 0; k < 400; k++) go(0, 0.05);
  }
  return { truth, massKg, speed, amps, step };
}

it.each([
  [1, 0],
  [10, 0],
  [1, 0.5],
  [10, 0.5],
])('%d samples a second, gusts of %d m/s: drag, rolling and wind hold the truth', (hz, gustMps) => {
  const random = seededRandom(10 * hz + 100 * gustMps);
  const coverage = new Coverage();
  for (let n = 0; n < ridesOf(STRIPS); n++) {
    const logger = plainLogger(random);
    const { truth, massKg, ...motion } = coasts(random, logger.noise, gustMps);
    const log = coastedLog(motion, logger, hz);
    coverage.see(analyseCoasts(log, inTurns(massKg), () => undefined).figures, truth);
  }
  for (const key of ['cda', 'crr', 'wind']) expect(coverage.of(key).given).toBe(ridesOf(STRIPS));
  coverage.expectHeld(`coasts, gusts of ${gustMps} m/s, ${hz} Hz`, 0.87);
});

/** Coasts of a bike whose brake drags by a force in some of them. */
function dragging(forceN: number, inCoasts: readonly number[]) {
  const random = seededRandom(31);
  const noise = plainLogger(random).noise;
  const [massKg, step] = [100, 0.02];
  const speed: number[] = [];
  for (let coast = 0; coast < 6; coast++) {
    let v = 8.5;
    for (let k = 0; k < 300; k++) speed.push((8.5 * k) / 300);
    while (v > 2) {
      const extra = inCoasts.includes(coast) ? forceN : 0;
      v -= ((0.6 * 0.55 * v * v + massKg * 9.80665 * 0.008 + extra) / (1.02 * massKg)) * step;
      speed.push(v);
    }
    for (let k = 0; k < 400; k++) speed.push(0);
  }
  const log = logOfColumns(Math.floor(speed.length * step) - 1, 10, {
    'speed (km/h)': (t) => Math.max(0, 3.6 * speed[Math.round(t / step)]! + 0.05 * noise()),
    'voltage (V)': () => 52,
    'current (A)': (t) => (speed[Math.round(t / step) + 1]! > speed[Math.round(t / step)]! ? 8 : 0),
  });
  const said: string[] = [];
  const directions = [1, -1, 1, -1, 1, -1] as const;
  analyseCoasts(
    log,
    { totalMassKg: massKg, airDensity: 1.2, rotatingMassFactor: 1.02, directions },
    (code, message) => {
      if (code === 'brake-drags' || code === 'coast-differs')
        said.push(`${code}: ${typeof message === 'string' ? message.slice(0, 7) : ''}`);
    },
  );
  return said;
}
it('a brake that drags is said: in all coasts by a rolling resistance no tyre has, in one by that coast', () => {
  expect(dragging(0, [])).toEqual([]);
  expect(dragging(14, [0, 1, 2, 3, 4, 5])).toEqual(['brake-drags: A rolli']);
  expect(dragging(5, [3])).toEqual(['coast-differs: Coast 4']);
});
