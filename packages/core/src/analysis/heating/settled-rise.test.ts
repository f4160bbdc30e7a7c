import { Coverage, ridesOf } from '../../testing/coverage.js';
import { logOfColumns } from '../../testing/test-logs.js';
import { plainLogger, seededRandom } from '../../testing/plain-ride.js';
import { analyseHeating } from './analyse-heating.js';

const MOTORS = 16;
const COPPER = 0.00393;

/** One node by small steps: loss in copper that grows with its temperature, shed to the air, better while riding. */
function motor(random: () => number, windShare: number) {
  const between = (low: number, high: number): number => low + (high - low) * random();
  const airC = between(8, 26);
  const tauS = between(350, 800);
  const rise25 = between(25, 60);
  const rideS = Math.round(between(1, 1.5) * tauS);
  const amps = between(8, 14);
  const step = 0.5;
  const celsius: number[] = [];
  let T = airC;
  for (let t = 0; t < rideS + 1.6 * tauS; t += step) {
    celsius.push(T);
    const isRiding = t < rideS;
    const drive = isRiding ? rise25 * (1 + COPPER * (T - 25)) : 0;
    const shed = isRiding ? 1 : 1 - windShare;
    T += ((drive - shed * (T - airC)) / tauS) * step;
  }
  const a = COPPER * rise25;
  const truth = {
    riseAtLoad: (rise25 * (1 + COPPER * (airC - 25))) / (1 - a),
    timeConstant: tauS,
    coolingHalfLife: (Math.LN2 * tauS) / (1 - windShare),
  };
  return { celsius, step, rideS, amps, airC, truth, seconds: rideS + 1.6 * tauS - 2 };
}

it.each([
  ['copper that warms', 0],
  ['a motor that riding cools', 0.4],
])('the settled rise and the cooling hold the truth: %s', (name, windShare) => {
  const random = seededRandom(name.length);
  const coverage = new Coverage();
  const motors = ridesOf(MOTORS);
  for (let n = 0; n < motors; n++) {
    const { celsius, step, rideS, amps, airC, truth, seconds } = motor(random, windShare);
    const logger = plainLogger(random);
    const log = logOfColumns(Math.floor(seconds), 1, {
      'speed (km/h)': (t) => (t < rideS ? 20 + 0.8 * Math.sin(t / 9) : 0),
      'voltage (V)': () => 50,
      'current (A)': (t) => (t < rideS ? logger.amps * amps * (1 + 0.04 * Math.sin(t / 9)) : 0) + 0.03 * logger.noise(),
      'motor temperature (°C)': (t) => (celsius[Math.round(t / step)] ?? NaN) + 0.2 * logger.noise(),
    });
    const codes: string[] = [];
    const { figures } = analyseHeating(log, { ambientC: airC, temperatureLimitC: 120 }, (code) => codes.push(code));
    coverage.see(figures, { ...truth, headroom: 120 - airC - truth.riseAtLoad });
  }
  for (const key of ['riseAtLoad', 'timeConstant', 'coolingHalfLife', 'headroom'])
    expect([key, coverage.of(key).given]).toEqual([key, motors]);
  coverage.expectHeld(name);
});

it('a load whose copper warms faster than the motor sheds has no settled rise, and no headroom', () => {
  // 300 K at 25 °C: 0.393 % a kelvin of that is more than the whole.
  const tauS = 600;
  let T = 20;
  const celsius: number[] = [];
  for (let t = 0; t < 900; t++) {
    celsius.push(T);
    T += ((t < 250 ? 300 * (1 + COPPER * (T - 25)) : 0) - (T - 20)) / tauS;
  }
  const log = logOfColumns(890, 1, {
    'current (A)': (t) => (t < 250 ? 30 : 0),
    'motor temperature (°C)': (t) => celsius[Math.round(t)]!,
  });
  const codes: string[] = [];
  const { figures } = analyseHeating(log, { ambientC: 20, temperatureLimitC: 110 }, (code) => codes.push(code));
  expect(codes).toContain('rise-without-end');
  expect(figures.map(({ key }) => key)).not.toContain('headroom');
});
