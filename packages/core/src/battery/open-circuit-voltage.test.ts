import fc from 'fast-check';
import { CHEMISTRIES, energyShareAt, openCircuitVoltage, type Chemistry } from './index.js';

const chemistries = Object.keys(CHEMISTRIES) as Chemistry[];
const charge = fc.double({ min: 0, max: 1, noNaN: true });

describe.each(chemistries)('open-circuit voltage of a %s cell', (chemistry) => {
  it('never falls as the charge grows', () =>
    fc.assert(
      fc.property(charge, charge, (a, b) => {
        const [low, high] = [Math.min(a, b), Math.max(a, b)].map((share) => openCircuitVoltage(chemistry, share));
        expect(high).toBeGreaterThanOrEqual(low!);
      }),
    ));

  it('has no jumps: a thousandth of the charge is worth less than 0.02 V', () => {
    for (let k = 0; k < 1000; k++) {
      const step = openCircuitVoltage(chemistry, (k + 1) / 1000) - openCircuitVoltage(chemistry, k / 1000);
      expect(Math.abs(step)).toBeLessThan(0.02);
    }
  });

  it('carries energy in the mean of its volts: the upper half of the charge holds the greater half of it', () => {
    expect([energyShareAt(chemistry, 0), energyShareAt(chemistry, 1)]).toEqual([0, 1]);
    expect(energyShareAt(chemistry, 0.5)).toBeLessThan(0.5);
    expect(energyShareAt(chemistry, 0.5)).toBeGreaterThan(0.45);
    // By small steps of its own.
    let [below, whole] = [0, 0];
    for (let k = 0; k < 10_000; k++) {
      const volts = openCircuitVoltage(chemistry, (k + 0.5) / 10_000);
      whole += volts;
      if (k < 3700) below += volts;
    }
    expect(energyShareAt(chemistry, 0.37)).toBeCloseTo(below / whole, 6);
  });

  it('is held at empty and full beyond them', () => {
    expect(openCircuitVoltage(chemistry, -0.2)).toBe(openCircuitVoltage(chemistry, 0));
    expect(openCircuitVoltage(chemistry, 1.4)).toBe(openCircuitVoltage(chemistry, 1));
  });
});
