import { Coverage, ridesOf } from '../../testing/coverage.js';
import { cleanLog, readLog } from '../../logs/index.js';
import { plainRide, rowsOf, seededRandom, wander } from '../../testing/plain-ride.js';
import { analyseRange } from './analyse-range.js';
import { altitudeWander, wanderClimb } from './altitude-wander.js';

const RIDES = 40;

it('a wander is told from a road’s own slope, and from noise of single readings', () => {
  const random = seededRandom(5);
  const t = Float64Array.from({ length: 1200 }, (_, k) => k);
  const road = t.map((s) => 30 * Math.sin(s / 150));
  expect(altitudeWander(t, road)).toBeLessThan(0.01);
  const noisy = wander(random, 1200, 1, 0.5, 0.1);
  expect(
    altitudeWander(
      t,
      road.map((h, k) => h + noisy[k]!),
    ),
  ).toBeLessThan(0.02);
  const slow = wander(random, 1200, 1, 2, 60);
  // 2σ²/τ, m²/s.
  const found = altitudeWander(
    t,
    road.map((h, k) => h + slow[k]!),
  );
  expect(found).toBeGreaterThan(0.08);
  expect(found).toBeLessThan(0.2);
  expect(altitudeWander(t, new Float64Array(1200).fill(NaN))).toBe(0);
});

it('more wander asks for a wider hysteresis and still leaves more climbing behind', () => {
  const steps = [0, 0.05, 0.1, 0.2].map((rate) => wanderClimb(rate, 900, 2));
  expect(steps[0]).toEqual({ hysteresisM: 2, spuriousM: 0 });
  for (let k = 1; k < steps.length; k++) {
    expect(steps[k]!.hysteresisM).toBeGreaterThanOrEqual(steps[k - 1]!.hysteresisM);
    expect(steps[k]!.spuriousM).toBeGreaterThan(steps[k - 1]!.spuriousM);
  }
});

/** Road under the ride: level, or hills of a height; climbed is what one would count with a level. */
const ROADS: Readonly<Record<string, (way: number) => number>> = {
  'a level road': () => 20,
  'two long hills': (way) => 20 + 30 * (1 - Math.cos(way / 350)),
};
it.each(Object.keys(ROADS))('climbed metres by the altitude of a phone hold the truth: %s', (name) => {
  const random = seededRandom(name.length * 31);
  const coverage = new Coverage();
  for (let n = 0; n < ridesOf(RIDES); n++) {
    const ride = plainRide(random);
    const rows = rowsOf(ride, 1);
    const off = wander(random, rows.length, 1, 1.5 + 1.5 * random(), 45 + 60 * random());
    const road = ROADS[name]!;
    let climbed = 0;
    ride.wayM.forEach((way, k) => {
      if (k > 0) climbed += Math.max(0, road(way) - road(ride.wayM[k - 1]!));
    });
    const csv = [
      'time (s),speed (km/h),altitude (m)',
      ...rows.map(
        (k, j) =>
          `${ride.timeS[k]!.toFixed(1)},${(3.6 * ride.speedMps[k]!).toFixed(2)},${(road(ride.wayM[k]!) + off[j]!).toFixed(1)}`,
      ),
    ].join('\n');
    const raw = readLog(new TextEncoder().encode(csv));
    const log = raw.ok ? cleanLog(raw.value) : raw;
    if (!log.ok) throw new Error(log.problem.message);
    coverage.see(analyseRange(log.value).figures, { climbed });
  }
  expect(coverage.of('climbed').given).toBe(ridesOf(RIDES));
  coverage.expectHeld(`climbed by phone, ${name}`);
});
