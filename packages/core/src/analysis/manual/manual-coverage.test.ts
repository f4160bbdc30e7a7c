import { Coverage, ridesOf } from '../../testing/coverage.js';
import { openCircuitVoltage } from '../../battery/index.js';
import { seededRandom, standardNormal } from '../../numeric/index.js';
import { manualFigures, MOTOR_TOUCHES, type ManualReadings, type MotorTouch, type TestContext } from '../index.js';
import type { TestKind } from '../test-kinds.js';

/** Rides whose truth is drawn here, and read off as a display, a gauge, a watch and a hand would show it. */
const RIDES = 200;
const random = seededRandom(1311);
const between = (low: number, high: number): number => low + (high - low) * random();
const toStep = (value: number, step: number): number => Math.round(value / step) * step;

interface Simulated {
  readonly readings: ManualReadings;
  readonly context: TestContext;
  readonly truth: Readonly<Record<string, number>>;
}
/** What these readings give, set against what was drawn; each figure named has to come out now and then. */
function tried(what: string, kind: TestKind, simulate: () => Simulated, keys: readonly string[]): void {
  const coverage = new Coverage();
  for (let k = 0; k < ridesOf(RIDES); k++) {
    const { readings, context, truth } = simulate();
    coverage.see(
      manualFigures(kind, readings, context, () => undefined),
      truth,
    );
  }
  for (const key of keys) expect([key, coverage.of(key).given > 0]).toEqual([key, true]);
  coverage.expectHeld(`by hand: ${what}`);
}

/** A ride with a pack whose label is out by a little, a wheel set wrong by a little, and bars that are not equal. */
function range(read: 'bars' | 'bars-looked-at' | 'bars-out' | 'socket' | 'volts'): Simulated {
  const series = 10;
  const usableWh = 360 * between(0.87, 0.99);
  const distance = between(6, 30);
  const whPerKm = between(5, 9);
  const used = Math.min(0.85, (whPerKm * distance) / usableWh);
  const energyOut = used * usableWh;
  const bars = 5;
  // Where each bar goes out: at its own end or half-way through it, as the maker will have it, and out by up to a tenth of the charge.
  const within = between(0, 0.5);
  const edges = Array.from({ length: bars }, (_, k) => Math.max(0.02, (k + within) / bars + between(-0.1, 0.1))).sort();
  const barsAt = (charge: number): number => edges.filter((edge) => charge > edge).length;
  const km = distance * (1 + between(-0.015, 0.015));
  const seconds = (3600 * distance) / between(17, 26);
  // This cell's curve bows away from the typical one in the middle.
  const bow = between(-0.07, 0.07);
  const rest = (charge: number): number =>
    toStep(series * openCircuitVoltage('li-ion-nmc', charge + 4 * bow * charge * (1 - charge)), 0.1);
  const barsOut = edges
    .map((edge, k) => ({ left: k, at: ((1 - edge) / used) * distance }))
    .filter(({ at }) => at > 0 && at < distance)
    .map(({ left, at }) => ({ left, km: toStep(at + between(0, 0.3), 0.1) }));
  // A quick first part and a slow one after it, or the other way round: looks at the gauge have a time, and no place.
  const [turn, pace] = [between(0.2, 0.8), between(0.8, 1.2)];
  const timeShare = (way: number): number =>
    (Math.min(way, turn) / pace + Math.max(0, way - turn)) / (turn / pace + 1 - turn);
  const gaugeSeen = Array.from({ length: 5 }, () => random())
    .sort()
    .map((way) => ({ elapsedS: Math.round(timeShare(way) * seconds), bars: barsAt(1 - used * way) }));
  return {
    readings: {
      tripDistanceKm: toStep(km, 0.1),
      tripStepKm: 0.1,
      durationS: toStep(seconds, 60),
      durationStepS: 60,
      ...(read === 'volts' && { restVoltageStartV: rest(1), restVoltageEndV: rest(1 - used) }),
      ...(read === 'socket' && { wallEnergyWh: toStep(energyOut / between(0.8, 0.92), 10), wallStepWh: 10 }),
      ...(read === 'bars-out' && { barsOut }),
      ...(read === 'bars-looked-at' && { gaugeSeen }),
    },
    context: {
      pack: { chemistry: 'li-ion-nmc', capacityAh: 10, nominalVoltageV: 36 },
      ...(read.startsWith('bars') && {
        gauge: { startShare: 1, endShare: barsAt(1 - used) / bars, stepShare: 1 / bars },
      }),
    },
    truth: {
      distance,
      energyOut,
      netConsumption: energyOut / distance,
      movingTime: seconds,
      meanMovingSpeed: (3600 * distance) / seconds,
    },
  };
}

describe('figures by hand hold the truth', () => {
  it.each(['bars', 'bars-out', 'bars-looked-at', 'socket', 'volts'] as const)('of a ride: %s', (read) =>
    tried(`ride, ${read}`, 'range', () => range(read), [
      'distance',
      'netConsumption',
      'energyOut',
      'movingTime',
      'meanMovingSpeed',
    ]),
  );

  it('of a climb by watch and display', () => {
    tried(
      'climb',
      'hill-climb',
      () => {
        const lengthM = between(400, 1500);
        const gain = lengthM * between(0.04, 0.1);
        const speed = between(8, 22);
        const climbTime = (3.6 * lengthM) / speed;
        const minSpeed = speed * between(0.6, 0.9);
        return {
          readings: {
            durationS: toStep(climbTime + between(-0.3, 0.3) + between(-0.3, 0.3), 1),
            durationStepS: 1,
            lowestSpeedKmh: toStep(minSpeed * (1 + between(-0.015, 0.015)), 0.1),
            displayStepKmh: 0.1,
          },
          context: {
            course: {
              lengthM: lengthM * (1 + between(-0.005, 0.005)),
              startM: 0,
              finishM: lengthM * (1 + between(-0.005, 0.005)),
              isWhole: true,
              isLoop: false,
              gainM: gain + standardNormal(random),
              gainUncertaintyM: 1,
            },
          },
          truth: { climbTime, meanSpeed: speed, minSpeed, verticalSpeed: (3600 * gain) / climbTime },
        };
      },
      ['climbTime', 'meanSpeed', 'minSpeed', 'verticalSpeed'],
    );
  });

  it('of top speed by the display, both ways and one way', () => {
    tried(
      'top speed, both ways',
      'top-speed',
      () => {
        const still = between(20, 45);
        const wheel = 1 + between(-0.015, 0.015);
        const wind = between(-2, 2);
        const shown = (speed: number): number => toStep(wheel * speed * (1 + between(-0.02, 0.02)), 0.1);
        return {
          readings: {
            highestSpeedKmh: shown(still + wind),
            highestSpeedBackKmh: shown(still - wind),
            displayStepKmh: 0.1,
          },
          context: {},
          truth: { twoWayTopSpeed: still },
        };
      },
      ['twoWayTopSpeed'],
    );
  });

  it('of help as it is felt', () => {
    tried(
      'help felt',
      'assist-response',
      () => {
        const latency = between(0.3, 2);
        const late = between(-0.2, 0.2);
        const felt = (): number =>
          Math.max(0, latency * (1 + 0.1 * standardNormal(random)) + late + between(-0.3, 0.3) + between(-0.3, 0.3));
        return { readings: { helpAfterS: [felt(), felt(), felt(), felt(), felt()] }, context: {}, truth: { latency } };
      },
      ['latency'],
    );
  });

  it('of heat by hand', () => {
    tried(
      'motor felt',
      'heating',
      () => {
        const housingTemperature = between(15, 80);
        // Hands differ by some degrees about where one word ends.
        const felt = housingTemperature + between(-3, 3);
        const motorTouch: MotorTouch =
          felt < 29 ? 'cool' : felt < 42 ? 'warm' : felt < 54 ? 'can-be-held' : 'cannot-be-held';
        return { readings: { motorTouch }, context: { airTemperatureC: 12 }, truth: { housingTemperature } };
      },
      ['housingTemperature'],
    );
    expect(Object.keys(MOTOR_TOUCHES)).toHaveLength(4);
  });
});

describe('a motor that cools, by a thermometer held to it', () => {
  it.each([
    ['hot', 25, 50],
    ['a little warm', 8, 20],
  ] as const)('has its half-life held: %s', (how, leastK, mostK) => {
    tried(
      `cooling, ${how}`,
      'heating',
      () => {
        const [airC, riseK, halfLifeS] = [between(0, 28), between(leastK, mostK), between(400, 1500)];
        const count = Math.floor(between(4, 9));
        const times = Array.from({ length: count }, (_, k) => k * between(200, 320));
        const shownAirC = Math.round(airC + between(-1, 1));
        return {
          readings: {
            temperatures: times
              .sort((a, b) => a - b)
              .map((elapsedS) => ({
                place: 'motor' as const,
                elapsedS,
                valueC: toStep(airC + riseK * 2 ** (-elapsedS / halfLifeS) + between(-3, 3), 0.1),
              })),
          },
          context: { airTemperatureC: shownAirC },
          truth: { coolingHalfLife: halfLifeS },
        };
      },
      ['coolingHalfLife'],
    );
  });
});

describe('readings by level and by the crank hold the truth', () => {
  it('of speed, watts and consumption at each level', () => {
    tried(
      'levels',
      'assist-levels',
      () => {
        const wheel = 1 + between(-0.015, 0.015);
        const meter = 1 + between(-0.08, 0.08);
        const levels = [1, 2, 3].map((level) => ({ level, kmh: between(12, 28), watts: between(60, 400) }));
        return {
          readings: {
            levelTable: levels.map(({ level, kmh, watts }) => ({
              level,
              speedKmh: toStep(kmh * wheel + between(-0.5, 0.5), 0.1),
              powerW: toStep(watts * meter * (1 + between(-0.1, 0.1)), 1),
            })),
          },
          context: {},
          truth: Object.fromEntries(
            levels.flatMap(({ level, kmh, watts }) => [
              [`steadySpeedLevel${level}`, kmh],
              [`meanPowerLevel${level}`, watts],
              [`consumptionLevel${level}`, watts / kmh],
            ]),
          ),
        };
      },
      ['steadySpeedLevel1', 'meanPowerLevel2', 'consumptionLevel3'],
    );
  });

  it('of the crank’s turn until help, counted in quarters', () => {
    tried(
      'quarter turns',
      'assist-response',
      () => {
        const truth = between(60, 300);
        const counts = between(0, 1);
        const starts = Array.from({ length: 5 }, () => truth + 15 * standardNormal(random));
        return {
          // One rider counts the quarter that was just passed, another the one after it.
          readings: { helpAfterQuarterTurns: starts.map((degrees) => Math.max(0, Math.floor(degrees / 90 + counts))) },
          context: {},
          truth: { crankTurn: truth },
        };
      },
      ['crankTurn'],
    );
  });
});

it('a level that was changed on the way is said, but not where levels are the test', () => {
  const codes = (kind: TestKind): string[] => {
    const found: string[] = [];
    const readings = {
      tripDistanceKm: 5,
      levelsSeen: [
        { elapsedS: 10, level: '3' },
        { elapsedS: 200, level: '4' },
      ],
    };
    manualFigures(kind, readings, {}, (code) => void found.push(code));
    return found;
  };
  expect(codes('range')).toContain('level-changed');
  expect(codes('assist-levels')).not.toContain('level-changed');
});

it('looks at the gauge on the way narrow the energy, and those that saw nothing go out leave it', () => {
  const energy = (gaugeSeen: ManualReadings['gaugeSeen']): number => {
    const readings = { tripDistanceKm: 30, durationS: 5400, ...(gaugeSeen && { gaugeSeen }) };
    const context: TestContext = {
      pack: { chemistry: 'li-ion-nmc', measuredEnergyWh: 480, measuredEnergyUncertaintyWh: 10 },
      gauge: { startShare: 1, endShare: 0.2, stepShare: 0.2 },
    };
    const figures = manualFigures('range', readings, context, () => undefined);
    return figures.find(({ key }) => key === 'energyOut')!.standardUncertainty;
  };
  const plain = energy(undefined);
  expect(energy([{ elapsedS: 2700, bars: 5 }])).toBe(plain);
  const looks = [200, 300, 5100, 5200].map((elapsedS, k) => ({ elapsedS, bars: [5, 4, 2, 1][k]! }));
  expect(energy(looks)).toBeLessThan(0.95 * plain);
});
