import fc from 'fast-check';
import { simulateRide, type RideConditions, type RideCourse, type RideModel } from './index.js';

const model: RideModel = {
  pack: { chemistry: 'li-ion-nmc', seriesCells: 13, capacityAh: 14, resistanceOhm: 0.1, cutoffV: 39 },
  motor: {
    kind: 'hub',
    torqueConstant: 1.1,
    windingOhmAt25C: 0.2,
    gearRatio: 1,
    ironLossNm: 0.6,
    heatCapacityJPerK: 1900,
    thermalResistanceKPerW: 0.45,
    hasFreewheel: false,
  },
  controller: {
    batteryCurrentLimitA: 17,
    phaseCurrentLimitA: 35,
    idleW: 4,
    cutBackFromC: 95,
    cutBackToC: 115,
    speedLimitMps: 25 / 3.6,
    taperMps: 0.6,
    responseDelayS: 0.4,
    rampS: 0.5,
    levelShare: 0.6,
    regenerationCurrentA: 3,
  },
  rider: { powerW: 80, massKg: 78, targetSpeedMps: 25 / 3.6, brakingMps2: 1.1 },
  bike: {
    massKg: 27,
    dragAreaM2: 0.62,
    rollingResistanceCoefficient: 0.007,
    wheelCircumferenceM: 2.1,
    rotatingMassFactor: 1.02,
    gears: [1.6, 2.2, 3],
    drivetrainEfficiency: 0.95,
  },
};
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
