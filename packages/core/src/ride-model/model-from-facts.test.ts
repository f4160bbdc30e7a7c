import { totalMass } from '../bench/index.js';
import { exampleKit, exampleSettings, hubSetup, midSetup, twoPackSetup } from '../testing/example-bench.js';
import { estimateRide } from '../planning/index.js';
import { modelFromFacts, rideCourseOf, simulateRide } from './index.js';

const calm = { airDensity: 1.2, airTemperatureC: 20, windMps: 0, startStateOfCharge: 1, startMotorC: 20 };
const way = { effort: 'steady', level: null, targetSpeedKmh: null } as const;
const hill = rideCourseOf({
  lengthM: 2000,
  profile: [
    { distanceM: 0, altitudeM: 0 },
    { distanceM: 2000, altitudeM: 80 },
  ],
});

describe('a model of a setup on the bench', () => {
  it('takes what the bench knows and names what it does not', () => {
    const { model, assumed } = modelFromFacts(hubSetup(), way);
    expect(model.motor.kind).toBe('hub');
    expect(model.bike.massKg).toBeCloseTo(totalMass(hubSetup()).fittedKg, 9);
    expect(model.pack.capacityAh).toBe(hubSetup().packs[0]!.capacityAh);
    const bare = modelFromFacts(
      {
        ...hubSetup(),
        kit: { ...exampleKit, maxTorqueNm: null, currentLimitA: null },
        settings: { ...exampleSettings, currentLimitA: null },
      },
      way,
    );
    expect(bare.assumed).toEqual(expect.arrayContaining(['torque of the motor', 'current limit']));
    expect(bare.assumed.length).toBeGreaterThan(assumed.length);
  });
  it.each([
    ['hub', hubSetup],
    ['mid', midSetup],
  ])('rides a course to its end with a closed energy book: %s', (_, setup) => {
    const { model } = modelFromFacts(setup(), way);
    const { book, endedBy, trace } = simulateRide(model, hill, calm, { stepS: 0.02 });
    expect(endedBy).toBe('finish');
    expect(Math.abs(book.imbalanceShare)).toBeLessThan(0.001);
    expect(Math.max(...trace.speedMps)).toBeLessThan(30 / 3.6);
  });
  it('uses less the more the rider pedals, and more on a hill than on the level', () => {
    const energy = (effort: 'hard' | 'light' | 'throttle', course = hill): number => {
      // The same level and the same speed: only the legs differ.
      const { model } = modelFromFacts(hubSetup(), { effort, level: null, targetSpeedKmh: 18 });
      return estimateRide(model, course, calm).energyWh;
    };
    expect(energy('hard')).toBeLessThan(energy('light'));
    expect(energy('light')).toBeLessThan(energy('throttle'));
    expect(energy('light', rideCourseOf({ lengthM: 2000, profile: null }))).toBeLessThan(energy('light'));
  });
  it('adds the charges of packs in parallel', () =>
    expect(modelFromFacts(twoPackSetup(), way).model.pack.capacityAh).toBeCloseTo(
      twoPackSetup().packs.reduce((sum, { capacityAh }) => sum + capacityAh!, 0),
      9,
    ));
});

describe('a stored course for the ride model', () => {
  it('turned round it is as long and rises where it fell', () => {
    const back = rideCourseOf(
      {
        lengthM: 2000,
        profile: [
          { distanceM: 0, altitudeM: 5 },
          { distanceM: 2000, altitudeM: 85 },
        ],
      },
      -1,
    );
    expect(back.profile).toEqual([
      { distanceM: 0, altitudeM: 85 },
      { distanceM: 2000, altitudeM: 5 },
    ]);
  });
  it('is cut to its gates', () => {
    const part = rideCourseOf(
      {
        lengthM: 2000,
        profile: [
          { distanceM: 0, altitudeM: 0 },
          { distanceM: 2000, altitudeM: 80 },
        ],
      },
      1,
      500,
      1500,
    );
    expect(part.lengthM).toBe(1000);
    expect(part.profile).toEqual([
      { distanceM: 0, altitudeM: 20 },
      { distanceM: 1000, altitudeM: 60 },
    ]);
  });
});
