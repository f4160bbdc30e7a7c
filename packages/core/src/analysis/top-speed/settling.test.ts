import { Coverage, ridesOf } from '../../testing/coverage.js';
import { logOfColumns } from '../../testing/test-logs.js';
import { plainLogger, seededRandom } from '../../testing/plain-ride.js';
import type { TestContext } from '../test-context.js';
import { analyseTopSpeed } from './analyse-top-speed.js';

const RIDES = 24;

/** Passes there and back with a drive of constant power and a current limit at the start, by small steps; power off after a time. */
function passes(random: () => number, pushS: number) {
  const between = (low: number, high: number): number => low + (high - low) * random();
  const [massKg, cda, crr, powerW] = [between(90, 125), between(0.45, 0.7), between(0.006, 0.011), between(350, 700)];
  const wind = between(0, 2);
  const step = 0.02;
  const [speed, watts]: [number[], number[]] = [[], []];
  const resistance = (v: number, head: number): number =>
    0.6 * cda * (v + head) * Math.abs(v + head) + massKg * 9.81 * crr;
  const settled = [wind, -wind].map((head) => {
    let v = 5;
    for (let k = 0; k < 40_000; k++) v += ((powerW / v - resistance(v, head)) / massKg) * step;
    return v;
  });
  for (let pass = 0; pass < 4; pass++) {
    const head = pass % 2 === 0 ? wind : -wind;
    let v = 0;
    for (let t = 0; t < pushS + 30; t += step) {
      const isOn = t < pushS;
      const pull = isOn ? Math.min(130, powerW / Math.max(0.5, v)) : 0;
      const brake = !isOn && t > pushS + 2 ? 2 * massKg : 0;
      v = Math.max(0, v + ((pull - (v > 0 ? resistance(v, head) : 0) - brake) / massKg) * step);
      speed.push(v);
      watts.push(isOn ? (pull * v) / 0.8 + 20 : 5);
    }
  }
  const context: TestContext = { totalMassKg: massKg, cdaM2: cda, crr, airDensity: 1.2, directions: [1, -1, 1, -1] };
  return { speed, watts, step, context, twoWay: (3.6 * (settled[0]! + settled[1]!)) / 2 };
}

it.each([
  [9, 5],
  [12, 10],
  [18, 5],
  [70, 5],
  [70, 1],
])('passes pushed for %d s at %d samples a second: the settled speed, or none', (pushS, hz) => {
  const random = seededRandom(100 * pushS + hz);
  const coverage = new Coverage();
  const rides = ridesOf(RIDES);
  let said = 0;
  for (let n = 0; n < rides; n++) {
    const { speed, watts, step, context, twoWay } = passes(random, pushS);
    const logger = plainLogger(random);
    const at = (values: readonly number[], t: number): number => values[Math.round(t / step)] ?? 0;
    const log = logOfColumns(Math.floor(speed.length * step) - 1, hz, {
      'speed (km/h)': (t) => Math.max(0, 3.6 * logger.speed * at(speed, t) + 0.08 * logger.noise()),
      'voltage (V)': () => 48,
      'current (A)': (t) => at(watts, t) / 48 + 0.05 * logger.noise(),
    });
    const codes: string[] = [];
    const { figures } = analyseTopSpeed(log, context, (code) => codes.push(code));
    if (codes.includes('speed-not-settled') || codes.includes('no-pass')) said++;
    coverage.see(figures, { twoWayTopSpeed: twoWay });
  }
  // Never quietly wrong: where a figure is given it holds, where none is, it says why.
  coverage.expectHeld(`pushed for ${pushS} s, ${hz} Hz`);
  const { given } = coverage.of('twoWayTopSpeed');
  if (pushS < 20) expect(said).toBeGreaterThanOrEqual(rides - given);
  else expect(given).toBe(rides);
});
