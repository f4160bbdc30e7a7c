import { phoneLogOf } from '../testing/phone-log.js';
import { logOf } from '../testing/test-logs.js';
import { analyseTest } from './analyse-test.js';
import { DEFAULT_INSTRUMENT } from './instrument.js';
import type { TestContext } from './test-context.js';

/** As a phone is stated on the bench. */
const instrument = { ...DEFAULT_INSTRUMENT, distanceGain: 0.015, altitudeM: 8 };
const share = (seed: number, k: number): number => ((seed * 7919 * (k + 1)) % 997) / 997;
const RIDES = 40;

const AT_LEAST = 36;

/** Every figure is given in every ride, and holds the truth in nearly all. */
function expectHeld(
  of: (seed: number) => { found: ReturnType<typeof analyseTest>; truth: Readonly<Record<string, number>> },
): void {
  const counts: Record<string, [held: number, given: number]> = {};
  const missed: string[] = [];
  for (let seed = 1; seed <= RIDES; seed++) {
    const { found, truth } = of(seed);
    for (const [key, value] of Object.entries(truth)) {
      const figure = found.figures.find((one) => one.key === key);
      const count = (counts[key] ??= [0, 0]);
      if (!figure) continue;
      count[1]++;
      if (value >= figure.interval95[0] && value <= figure.interval95[1]) count[0]++;
      else
        missed.push(
          `${seed} ${key} ${value.toFixed(2)} not in ${figure.interval95.map((one) => one.toFixed(2)).join(' … ')}`,
        );
    }
  }
  for (const [key, [held, given]] of Object.entries(counts))
    expect({ key, given, isHeld: held >= AT_LEAST, missed }).toEqual({
      key,
      given: RIDES,
      isHeld: true,
      missed: expect.anything() as unknown,
    });
}

describe('a phone alone', () => {
  it('tells way, moving time and mean speed of a ride with stops within what it states', () => {
    expectHeld((seed) => {
      const top = 5 + 2 * share(seed, 1);
      const stops = Array.from({ length: 4 + (seed % 4) }, (_, k) => 150 * (k + 1) + 40 * share(seed, k + 3));
      const mps = (t: number): number => {
        const last = stops.findLast((at) => t >= at);
        const since = last === undefined ? t : t - last;
        // Each stop: brakes in 3 s, stands for 12, rides off again.
        if (last !== undefined && since < 3) return top * (1 - since / 3);
        if (last !== undefined && since < 15) return 0;
        return Math.min(top, 1.1 * (last === undefined ? since : since - 15));
      };
      const ride = phoneLogOf({ seconds: 1300, mps }, seed);
      // Slower than 1.8 km/h is standing.
      const STEP_S = 0.05;
      const moved =
        STEP_S * Array.from({ length: 1300 / STEP_S }, (_, k) => k).filter((k) => mps(k * STEP_S) > 0.5).length;
      return {
        found: analyseTest('range', logOf(ride.csv), { instrument }),
        truth: {
          distance: ride.distanceM / 1000,
          movingTime: moved,
          meanMovingSpeed: (3.6 * ride.distanceM) / moved,
        },
      };
    });
  });
  it('tells a top speed both ways within what it states', () => {
    expectHeld((seed) => {
      const [with_, against] = [7.4 + share(seed, 1), 6.6 + share(seed, 2)];
      const pass = (t: number, top: number): number =>
        t < 60 ? Math.min(top, 1.2 * t) : Math.max(0, top - 2 * (t - 60));
      const mps = (t: number): number => pass(t % 80, Math.floor(t / 80) % 2 === 0 ? with_ : against);
      const ride = phoneLogOf({ seconds: 320, mps, turnsAtS: [75, 155, 235] }, seed);
      return {
        found: analyseTest('top-speed', logOf(ride.csv), { instrument }),
        truth: { twoWayTopSpeed: (3.6 * (with_ + against)) / 2 },
      };
    });
  });
  it('tells time and gain of a climb between its gates within what it states', () => {
    expectHeld((seed) => {
      const v = 3.5 + 2 * share(seed, 1);
      const [startM, finishM] = [50, 950];
      const grade = 0.04 + 0.04 * share(seed, 2);
      const mps = (t: number): number => Math.min(v, 1.2 * t);
      const ride = phoneLogOf({ seconds: 1000 / v + 10, mps, grade: () => grade }, seed);
      const context: TestContext = {
        instrument,
        course: { lengthM: 1000, startM, finishM, isWhole: false, isLoop: false },
      };
      const time = (finishM - startM) / v;
      return {
        found: analyseTest('hill-climb', logOf(ride.csv), context),
        truth: {
          climbTime: time,
          gain: grade * (finishM - startM),
          meanSpeed: 3.6 * v,
          verticalSpeed: (3600 * grade * (finishM - startM)) / time,
        },
      };
    });
  });
});
