import { coastedLog, inTurns } from '../../testing/coasted-log.js';
import { Coverage, ridesOf } from '../../testing/coverage.js';
import { plainLogger, seededRandom } from '../../testing/plain-ride.js';
import { analyseCoasts } from './analyse-coasts.js';

const STRIPS = 24;

/** Six coasts there and back over one strip of humps, each driven up to speed before its end of it; by small steps. */
function strip(random: () => number, heightM: number) {
  const between = (low: number, high: number): number => low + (high - low) * random();
  const truth = { cda: between(0.4, 0.7), crr: between(0.005, 0.012), wind: between(-1.5, 1.5) };
  const [massKg, slope, step] = [between(85, 125), between(-0.0015, 0.0015), 0.02];
  const humps = Array.from({ length: 3 }, () => ({
    k: (2 * Math.PI) / between(18, 90),
    at: between(0, 6.28),
    m: heightM / 6,
  }));
  const grade = (x: number): number =>
    slope + humps.reduce((sum, { k, at, m }) => sum + m * k * Math.cos(k * x + at), 0);
  const [speed, amps]: [number[], number[]] = [[], []];
  const lengthM = 320;
  for (let coast = 0; coast < 6; coast++) {
    const direction = coast % 2 === 0 ? 1 : -1;
    let v = 0;
    // So that it is at speed where the strip begins, or ends for those coming back.
    let x = direction === 1 ? -60 : lengthM + 60;
    const go = (force: number, current: number): void => {
      const air = v + direction * truth.wind;
      const drag = 0.6 * truth.cda * air * Math.abs(air);
      const resistance = v > 0 ? drag + massKg * 9.80665 * (truth.crr + direction * grade(x)) : 0;
      v = Math.max(0, v + ((force - resistance) / (1.02 * massKg)) * step);
      x += direction * v * step;
      speed.push(v);
      amps.push(current);
    };
    while (v < 8.5) go(150, 8);
    for (let k = 0; v > 2 && k < 6000; k++) go(0, 0.05);
    while (v > 0) go(-250, 0.05);
    for (let k = 0; k < 400; k++) {
      speed.push(0);
      amps.push(0.05);
    }
  }
  return { truth, massKg, speed, amps, step };
}

it.each([
  [0.1, 10],
  [0.3, 10],
  [0.5, 10],
  [0.3, 2],
])('a strip with humps of %d m, %d samples a second: drag, rolling and wind hold the truth', (heightM, hz) => {
  const random = seededRandom(100 * heightM + hz);
  const coverage = new Coverage();
  for (let n = 0; n < ridesOf(STRIPS); n++) {
    const logger = plainLogger(random);
    const { truth, massKg, ...motion } = strip(random, heightM);
    const log = coastedLog(motion, logger, hz);
    coverage.see(analyseCoasts(log, inTurns(massKg), () => undefined).figures, truth);
  }
  // A strip on which the bike comes to stand in a hollow tells nothing, and is refused.
  for (const key of ['cda', 'crr', 'wind']) expect(coverage.of(key).given).toBeGreaterThan(0.8 * ridesOf(STRIPS));
  coverage.expectHeld(`strip with humps of ${heightM} m, ${hz} Hz`, 0.87);
});
