import { airDensityKgPerM3, dragForceN, gradeForceN, rollingForceN } from './index.js';

describe('air and loads', () => {
  // Dry air at 15 °C and 1013.25 hPa: 1.225 kg/m³ (ISO 2533 standard atmosphere).
  it('knows the standard atmosphere', () => expect(airDensityKgPerM3(15, 101_325, 0)).toBeCloseTo(1.225, 3));
  it('makes moist and warm air lighter', () => {
    expect(airDensityKgPerM3(25, 101_325, 1)).toBeLessThan(airDensityKgPerM3(25, 101_325, 0));
    expect(airDensityKgPerM3(30, 101_325, 0.5)).toBeLessThan(airDensityKgPerM3(5, 101_325, 0.5));
  });
  it('pushes when the tailwind is faster than the bike', () => {
    expect(dragForceN(1.2, 0.6, 5, 0)).toBeCloseTo(9, 9);
    expect(dragForceN(1.2, 0.6, 5, -8)).toBeLessThan(0);
    expect(dragForceN(1.2, 0.6, 5, -5)).toBeCloseTo(0, 12);
  });
  it('weighs a bike on a slope', () => {
    expect(gradeForceN(100, 0)).toBe(0);
    expect(gradeForceN(100, 0.06)).toBeCloseTo(100 * 9.80665 * Math.sin(Math.atan(0.06)), 6);
    expect(rollingForceN({ totalMassKg: 100, rollingResistanceCoefficient: 0.007, dragAreaM2: 0.6 }, 0)).toBeCloseTo(
      6.864655,
      6,
    );
  });
});
