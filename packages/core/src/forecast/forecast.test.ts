import { trueCase } from '../testing/forecast-rides.js';
import { centreOf } from './calibrate.js';
import { warmNodes } from './heat-nodes.js';
import { calibrate, forecast, type Scenario, type Trust } from './index.js';
import { forceOfPower, powerOfPull, pullOfForce } from './motor-law.js';
import { priorsOf } from './parameters.js';
import { pathProfile, type PathBike } from './path.js';
import { ridePath } from './ride-path.js';

const LOSSES = {
  driveEfficiency: 0.95,
  copperLoss: 0.012,
  ironDrag: 2,
  idlePower: 3,
  isGeared: false,
  isAlwaysTurning: false,
};
const NOTHING = calibrate([], {});
const BIKE: PathBike = {
  parameters: centreOf(NOTHING),
  fixed: NOTHING.fixed,
  law: 'current',
  massKg: 110,
  cutBackFromC: Infinity,
  cutBackToC: Infinity,
};
const AIR = { density: 1.2, temperatureC: 18, headWindMps: 0 };
const START = { share: 0.95, motorC: 18, speedMps: 2 };
const riding = (over: object = {}) => ({
  demand: 0.8,
  targetMps: Infinity,
  riderW: 80,
  stopsM: [],
  dwellS: 0,
  rampS: 1,
  ...over,
});
const level = (lengthM: number, grade = 0) =>
  pathProfile([
    { distanceM: 0, altitudeM: 0 },
    { distanceM: lengthM, altitudeM: lengthM * grade },
  ]);
const hilly = pathProfile(
  Array.from({ length: 101 }, (_, k) => ({ distanceM: k * 60, altitudeM: 25 * Math.sin(k / 6) })),
);
const SCENARIO: Scenario = {
  profile: [
    { distanceM: 0, altitudeM: 0 },
    { distanceM: 3000, altitudeM: 60 },
  ],
  totalMassKg: 105,
  airTemperatureC: 15,
  windMps: 0,
  startShare: 0.95,
  riding: { targetSpeedKmh: 22, riderPowerW: 80 },
};
const valueOf = (scenario: Scenario, key: string, seed = 1): number =>
  forecast(NOTHING, scenario, { samples: 30, seed }).figures.find((figure) => figure.key === key)!.value;

describe('the law of the drive', () => {
  it.each([
    [0.5, 40],
    [5, 10],
    [8, 60],
    [12, 25],
  ])('at %d m/s costs for %d N what gives %d N again', (speedMps, forceN) => {
    const powerW = powerOfPull(pullOfForce(forceN, LOSSES), speedMps, LOSSES.idlePower, LOSSES.copperLoss);
    expect(forceOfPower(powerW, speedMps, LOSSES, LOSSES.copperLoss)).toBeCloseTo(forceN, 9);
    expect(powerW).toBeGreaterThan(forceN * speedMps);
  });
  it('gives nothing for what the electronics take', () => expect(forceOfPower(3, 5, LOSSES, 0.012)).toBe(0));
});

describe('one path', () => {
  it.each([
    ['on the level', level(3000), {}],
    ['over hills', hilly, {}],
    ['with stops', hilly, { stopsM: [500, 2500], dwellS: 10, targetMps: 6 }],
    ['held to a speed', hilly, { targetMps: 6 }],
  ])('closes its energy to a thousandth %s', (_, way, over) => {
    const outcome = ridePath(BIKE, way, riding(over), AIR, START);
    expect(outcome.endedBy).toBe('finish');
    expect(Math.abs(outcome.imbalanceShare)).toBeLessThan(1e-3);
  });
  it('settles at the speed at which pull and resistance are equal', () => {
    const outcome = ridePath(BIKE, level(6000), riding({ demand: 0, riderW: 100 }), AIR, START);
    const { dragArea, rolling } = BIKE.parameters;
    // 100 W on the level, no motor: ½ρ·CdA·v³ + m·g·Crr·v = 100.
    let v = 5;
    for (let k = 0; k < 50; k++) v = 100 / (0.6 * dragArea * v * v + 110 * 9.80665 * rolling);
    let [low, high] = [1, 15];
    for (let k = 0; k < 60; k++) {
      v = (low + high) / 2;
      if (0.6 * dragArea * v ** 3 + 110 * 9.80665 * rolling * v > 100) high = v;
      else low = v;
    }
    expect(outcome.lowestMps).toBeLessThan(v);
    expect((6000 - 500) / (outcome.timeS - 100)).toBeGreaterThan(0.8 * v);
    const long = ridePath(BIKE, level(12_000), riding({ demand: 0, riderW: 100 }), AIR, START);
    expect(6000 / (long.timeS - outcome.timeS)).toBeCloseTo(v, 2);
  });
  it('stops where it has to, for as long as it has to', () => {
    const without = ridePath(BIKE, level(2000), riding({ targetMps: 6 }), AIR, START);
    const withStop = ridePath(BIKE, level(2000), riding({ targetMps: 6, stopsM: [1000], dwellS: 30 }), AIR, START);
    expect(withStop.timeS - without.timeS).toBeGreaterThan(30);
    expect(withStop.timeS - without.timeS).toBeLessThan(50);
  });
  it('ends where the battery cuts off, and where nothing holds the bike any more', () => {
    expect(ridePath(BIKE, level(400_000), riding({ riderW: 0 }), AIR, START)).toMatchObject({ endedBy: 'cut-off' });
    expect(ridePath(BIKE, level(5000, 0.45), riding({ riderW: 30, demand: 0.05 }), AIR, START)).toMatchObject({
      endedBy: 'stall',
    });
  });
  it('cuts help back where the motor is hot', () => {
    const hot = { ...BIKE, fixed: { ...BIKE.fixed, temperatureLimitC: 45 }, cutBackFromC: 45, cutBackToC: 60 };
    const free = ridePath(BIKE, level(3000, 0.09), riding({ demand: 1 }), AIR, START);
    const held = ridePath(hot, level(3000, 0.09), riding({ demand: 1 }), AIR, START);
    expect(held.cutBackM).toBeGreaterThan(0);
    expect(held.peakMotorC).toBeLessThan(free.peakMotorC);
    expect(held.timeS).toBeGreaterThan(free.timeS);
    expect(held.limitAtS).toBeGreaterThan(0);
  });
});

describe('heat in two nodes', () => {
  const heat = { sensorHeat: 400, bodyHeat: 1500, sensorToBody: 6, toStillAir: 1.2, toMovingAir: 0.1 };
  it('settles where losses leave as fast as they come', () => {
    const state = { sensorC: 20, bodyC: 20 };
    for (let k = 0; k < 40_000; k++) warmNodes(state, heat, 60, 0, 5, 20, 1);
    expect(state.bodyC - 20).toBeCloseTo(60 / (1.2 + 0.5), 3);
    expect(state.sensorC - state.bodyC).toBeCloseTo(10, 3);
  });
  it('keeps every joule while no air takes any', () => {
    const state = { sensorC: 20, bodyC: 20 };
    for (let k = 0; k < 500; k++) warmNodes(state, { ...heat, toStillAir: 0, toMovingAir: 0 }, 40, 0, 5, 20, 0.5);
    expect(400 * (state.sensorC - 20) + 1500 * (state.bodyC - 20)).toBeCloseTo(40 * 250, 6);
  });
});

describe('a forecast', () => {
  it('is the same again with the same seed', () =>
    expect(forecast(NOTHING, SCENARIO, { samples: 30, seed: 7 })).toEqual(
      forecast(NOTHING, SCENARIO, { samples: 30, seed: 7 }),
    ));
  it('needs more up a hill, with more load, against the wind, and for more speed', () => {
    const base = valueOf(SCENARIO, 'energyOut');
    expect(valueOf({ ...SCENARIO, totalMassKg: 130 }, 'energyOut')).toBeGreaterThan(base);
    expect(valueOf({ ...SCENARIO, windMps: 3 }, 'energyOut')).toBeGreaterThan(base);
    expect(valueOf({ ...SCENARIO, riding: { ...SCENARIO.riding, riderPowerW: 140 } }, 'energyOut')).toBeLessThan(base);
    const steeper = SCENARIO.profile.map(({ distanceM, altitudeM }) => ({ distanceM, altitudeM: 1.5 * altitudeM }));
    expect(valueOf({ ...SCENARIO, profile: steeper }, 'energyOut')).toBeGreaterThan(base);
  });
  it('goes further with a second pack, and shorter to a larger reserve', () => {
    const base = valueOf(SCENARIO, 'rangeWithReserve');
    expect(valueOf({ ...SCENARIO, secondPack: { capacityAh: 13, massKg: 3.5 } }, 'rangeWithReserve')).toBeGreaterThan(
      1.8 * base,
    );
    expect(valueOf({ ...SCENARIO, reserveShare: 0.3 }, 'rangeWithReserve')).toBeLessThan(base);
    expect(valueOf(SCENARIO, 'rangeToCutoff')).toBeGreaterThan(base);
  });
  it('knows the farthest point to come back from: the whole of a short way, less with less charge, and less up a hill than down', () => {
    const far = (over: Partial<Scenario>): number => valueOf({ ...SCENARIO, ...over }, 'farthestReturn');
    expect(far({})).toBeCloseTo(3, 2);
    const long = { profile: [SCENARIO.profile[0]!, { distanceM: 60_000, altitudeM: 0 }], startShare: 0.4 };
    const level = far(long);
    expect(level).toBeGreaterThan(5);
    expect(level).toBeLessThan(40);
    expect(far({ ...long, startShare: 0.25 })).toBeLessThan(0.6 * level);
    expect(far({ ...long, secondPack: { capacityAh: 13, massKg: 3 } })).toBeGreaterThan(1.4 * level);
    // Out and home again is half of the range.
    const range = valueOf(
      { ...SCENARIO, ...long, profile: [SCENARIO.profile[0]!, { distanceM: 5000, altitudeM: 0 }] },
      'rangeWithReserve',
    );
    expect(level / range).toBeGreaterThan(0.45);
    expect(level / range).toBeLessThan(0.55);
  });
  it('draws bands that end where the figures do, from the charge that was stated', () => {
    const { figures, along } = forecast(NOTHING, SCENARIO, { samples: 150 });
    const left = figures.find(({ key }) => key === 'chargeLeftShare')!;
    const end = along.at(-1)!;
    expect(along[0]!.chargeBand).toEqual([0.95, 0.95]);
    expect(end.chargeBand[0]).toBeCloseTo(left.interval95[0], 2);
    expect(end.chargeBand[1]).toBeCloseTo(left.interval95[1], 2);
  });
  it('of a bike that missed its checks has wider bands, too', () => {
    const missed = { n: 6, hits: 2, bias: 0, spread: 0.5, beyond: 0.5, within: 1 };
    const width = (trust: Trust): number => {
      const [low, high] = forecast(NOTHING, SCENARIO, { samples: 100, trust }).along.at(-1)!.chargeBand;
      return high - low;
    };
    expect(width({ energy: missed, rides: [], isMissed: true })).toBeGreaterThan(
      1.3 * width({ energy: { ...missed, beyond: 0.02 }, rides: [], isMissed: false }),
    );
  });
  it('without a ride is wide and says so', () => {
    const { figures, warnings } = forecast(NOTHING, SCENARIO, { samples: 150 });
    const [low, high] = figures.find(({ key }) => key === 'energyOut')!.interval95;
    expect(high / low).toBeGreaterThan(1.5);
    expect(warnings.map(({ code }) => code)).toContain('no-rides');
  });
  it('says what each figure is unsure by, in shares that make one', () => {
    const { figures } = forecast(NOTHING, SCENARIO, { samples: 150 });
    for (const { contributions } of figures) {
      const sum = contributions.reduce((total, { share }) => total + share, 0);
      expect(sum).toBeGreaterThan(0.93);
      expect(sum).toBeLessThan(1.02);
    }
  });
  it.each([
    ['one point', [{ distanceM: 0, altitudeM: 0 }], /at least two/],
    [
      'no number',
      [
        { distanceM: 0, altitudeM: 0 },
        { distanceM: 500, altitudeM: NaN },
      ],
      /point 2 has no finite/,
    ],
    [
      'a step back',
      [
        { distanceM: 0, altitudeM: 0 },
        { distanceM: 500, altitudeM: 1 },
        { distanceM: 400, altitudeM: 1 },
      ],
      /point 3 lies at 400 m after 500/,
    ],
    [
      'a wall',
      [
        { distanceM: 0, altitudeM: 0 },
        { distanceM: 100, altitudeM: 900 },
      ],
      /no road is that steep/,
    ],
    ['too many', Array.from({ length: 50_001 }, (_, k) => ({ distanceM: k, altitudeM: 0 })), /at most 50000 points/],
  ])('of a way with %s is refused with the place', (_, profile, words) =>
    expect(() => forecast(NOTHING, { ...SCENARIO, profile }, { samples: 10 })).toThrow(words),
  );
});

describe('a calibration', () => {
  const { calibration, records, known } = trueCase(77, 'current', 'throttle');
  it('finds the order of the throttle and says what the data told', () => {
    expect(calibration.command.law).toBe('current');
    const from = Object.fromEntries(calibration.parameters.map((parameter) => [parameter.name, parameter.from]));
    expect(from).toMatchObject({ dragArea: 'data', fullCurrent: 'data', packResistance: 'data', capacity: 'prior' });
  });
  it('is narrower than what was thought before, and wider with fewer rides', () => {
    const widthOf = (of: typeof calibration, name: string): number => {
      const { interval95 } = of.parameters.find((parameter) => parameter.name === name)!;
      return Math.log(interval95[1] / interval95[0]);
    };
    const two = calibrate(records.slice(0, 2), known);
    const none = calibrate([], known);
    expect(widthOf(calibration, 'dragArea')).toBeLessThan(widthOf(two, 'dragArea'));
    expect(widthOf(two, 'dragArea')).toBeLessThan(widthOf(none, 'dragArea'));
  });
  it('without rides is what was thought', () => {
    const none = calibrate([], known);
    const priors = priorsOf(known);
    for (const { name, value, from } of none.parameters) {
      expect(value).toBeCloseTo(priors[name].value, 9);
      expect(from).toBe('prior');
    }
  });
  it('warns where the question leaves what was ridden', () => {
    const steep = [
      { distanceM: 0, altitudeM: 0 },
      { distanceM: 600, altitudeM: 72 },
    ];
    expect(
      forecast(calibration, { ...SCENARIO, riding: { ...SCENARIO.riding, level: 9 } }, { samples: 5 }).warnings,
    ).toContainEqual(expect.objectContaining({ code: 'level-unseen' }));
    const codes = forecast(
      calibration,
      { ...SCENARIO, profile: steep, airTemperatureC: -8, totalMassKg: 160 },
      { samples: 20 },
    ).warnings.map(({ code }) => code);
    expect(codes).toEqual(expect.arrayContaining(['grade-beyond', 'cold-beyond', 'mass-beyond']));
  });
});
