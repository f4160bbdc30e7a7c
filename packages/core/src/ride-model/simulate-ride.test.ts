import fc from 'fast-check';
import { exampleRideModel } from '../testing/example-ride-model.js';
import { simulateRide, type RideConditions, type RideCourse, type RideModel } from './index.js';

const model = exampleRideModel;
const flat: RideCourse = {
  lengthM: 3000,
  profile: [
    { distanceM: 0, altitudeM: 10 },
    { distanceM: 3000, altitudeM: 10 },
  ],
  stops: [{ distanceM: 1500, dwellS: 10 }],
};
const hilly: RideCourse = {
  lengthM: 2000,
  profile: [
    { distanceM: 0, altitudeM: 10 },
    { distanceM: 800, altitudeM: 50 },
    { distanceM: 1500, altitudeM: 15 },
    { distanceM: 2000, altitudeM: 10 },
  ],
  stops: [{ distanceM: 1200, dwellS: 5 }],
};
const conditions: RideConditions = {
  airDensity: 1.2,
  airTemperatureC: 15,
  windMps: 0,
  startStateOfCharge: 0.95,
  startMotorC: 15,
};
const perMetre = (m: RideModel, c = flat, k = conditions): number => {
  const { terminalEnergyOutJ, terminalEnergyRegeneratedJ } = simulateRide(m, c, k, { stepS: 0.02 });
  return (terminalEnergyOutJ - terminalEnergyRegeneratedJ) / c.lengthM;
};

describe('simulateRide', () => {
  it('closes the energy book to 0.1 % whatever the bike, hill, wind and motor', () => {
    fc.assert(
      fc.property(
        fc.record({
          mass: fc.integer({ min: 50, max: 130 }),
          power: fc.integer({ min: 0, max: 200 }),
          wind: fc.integer({ min: -4, max: 4 }),
          mid: fc.boolean(),
          freewheel: fc.boolean(),
        }),
        ({ mass, power, wind, mid, freewheel }) => {
          const changed: RideModel = {
            ...model,
            rider: { ...model.rider, massKg: mass, powerW: power },
            motor: {
              ...model.motor,
              hasFreewheel: mid || freewheel,
              ...(mid && { kind: 'mid', gearRatio: 20, torqueConstant: 0.12, ironLossNm: 0.03 }),
            },
          };
          const { book, endedBy } = simulateRide(
            changed,
            hilly,
            { ...conditions, windMps: wind },
            { timeLimitS: 3000 },
          );
          expect(['finish', 'time', 'cut-off']).toContain(endedBy);
          expect(Math.abs(book.imbalanceShare)).toBeLessThan(1e-3);
          for (const loss of [book.batteryLossJ, book.copperLossJ, book.ironLossJ, book.rollingJ])
            expect(loss).toBeGreaterThanOrEqual(0);
        },
      ),
      { numRuns: 25, seed: 7 },
    );
  });

  it('uses more energy with more mass, more drag and less rider power', () => {
    const base = perMetre(model);
    expect(perMetre({ ...model, rider: { ...model.rider, massKg: 110 } })).toBeGreaterThan(base);
    expect(perMetre({ ...model, bike: { ...model.bike, dragAreaM2: 0.8 } })).toBeGreaterThan(base);
    expect(perMetre({ ...model, rider: { ...model.rider, powerW: 40 } })).toBeGreaterThan(base);
  });

  it('uses more energy on a windy loop than on a calm one, because drag grows with the square', () => {
    expect(perMetre(model, flat, { ...conditions, windMps: 4 })).toBeGreaterThan(perMetre(model));
  });

  it('converges: a step five times finer changes the energy by less than 0.5 %', () => {
    const net = (stepS: number): number => {
      const r = simulateRide(model, hilly, conditions, { stepS });
      return r.terminalEnergyOutJ - r.terminalEnergyRegeneratedJ;
    };
    expect(Math.abs(net(0.01) / net(0.002) - 1)).toBeLessThan(0.005);
  });

  it('stops at the cut-off when the pack is empty', () => {
    const result = simulateRide(model, hilly, { ...conditions, startStateOfCharge: 0.03 }, { laps: 20 });
    expect(result.endedBy).toBe('cut-off');
  });

  it('refuses a profile that does not reach the end of the course', () => {
    expect(() => simulateRide(model, { ...flat, lengthM: 9000 }, conditions)).toThrow(/profile/);
  });
});
