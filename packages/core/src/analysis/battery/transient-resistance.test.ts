import { Coverage, ridesOf } from '../../testing/coverage.js';
import { plainLogger } from '../../testing/plain-ride.js';
import { seededRandom } from '../../numeric/index.js';
import { logOfColumns } from '../../testing/test-logs.js';
import { analyseBattery } from './analyse-battery.js';

const PACKS = 30;

/** A pack with two slow parts under steps of the load, by small steps of its own; what it answers after a time is known. */
function pack(random: () => number) {
  const between = (low: number, high: number): number => low + (high - low) * random();
  const r0 = between(0.05, 0.14);
  const slow = [
    { ohm: r0 * between(0.1, 0.3), tauS: between(3, 12) },
    { ohm: r0 * between(0.1, 0.25), tauS: between(30, 90) },
  ];
  const after = (s: number): number =>
    r0 + slow.reduce((sum, { ohm, tauS }) => sum + ohm * (1 - Math.exp(-s / tauS)), 0);
  return { r0, slow, after, restV: between(38, 54), fall: between(0.1, 0.4) };
}

it.each([
  [2, 5, 0.1],
  [10, 10, 0.2],
  [10, 10, 0.1],
  [60, 60, 0.2],
  [30, 20, 0.1],
])('steps of %d s, rests of %d s, one sample every %d s: the resistance has its time', (loadS, restS, stepS) => {
  const random = seededRandom(1000 * loadS + restS + 100 * stepS);
  const coverage = new Coverage();
  const packs = ridesOf(PACKS);
  for (let n = 0; n < packs; n++) {
    const { r0, slow, after, restV, fall } = pack(random);
    const logger = plainLogger(random);
    const seconds = Math.min(900, 14 * (loadS + restS));
    const heights = Array.from({ length: 200 }, () => 4 + 12 * random());
    const load = (t: number): number => {
      const cycle = Math.floor(t / (loadS + restS));
      return t - cycle * (loadS + restS) < restS ? 0.1 : heights[cycle % 200]!;
    };
    const [volts, amps]: [number[], number[]] = [[], []];
    const states = slow.map(() => 0.1);
    let ah = 0;
    const fine = 0.02;
    for (let j = 0; j <= seconds / fine; j++) {
      const i = load(j * fine + 1e-9);
      slow.forEach(({ tauS }, k) => (states[k]! += ((i - states[k]!) * fine) / tauS));
      ah += (i * fine) / 3600;
      if (j % Math.round(stepS / fine) !== 0) continue;
      const v = restV - fall * ah - r0 * i - slow.reduce((sum, { ohm }, k) => sum + ohm * states[k]!, 0);
      volts.push(logger.volts * v + 0.02 * logger.noise());
      amps.push(logger.amps * i + 0.03 * logger.noise());
    }
    const log = logOfColumns(Math.floor(seconds), Math.round(1 / stepS), {
      'voltage (V)': (t) => volts[Math.round(t / stepS)] ?? NaN,
      'current (A)': (t) => amps[Math.round(t / stepS)] ?? NaN,
    });
    const { figures } = analyseBattery(log, {}, () => undefined);
    const truth = { internalResistance0: r0, internalResistance1s: after(1), internalResistance10s: after(10) };
    coverage.see(figures, truth);
  }
  expect(coverage.of('internalResistance0').given).toBe(packs);
  expect(coverage.of('internalResistance1s').given).toBe(packs);
  // Ten seconds are not told by steps of two.
  expect(coverage.of('internalResistance10s').given).toBe(loadS < 8 ? 0 : packs);
  coverage.expectHeld(`steps of ${loadS} s, rests of ${restS} s, ${1 / stepS} Hz`);
});
