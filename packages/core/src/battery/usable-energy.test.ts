import { usableEnergy } from './index.js';

describe('usable energy of a pack', () => {
  const label = { capacityAh: 14, nominalVoltageV: 48 };
  it('is what was measured, where it was measured', () =>
    expect(usableEnergy({ ...label, measuredEnergyWh: 600, measuredEnergyUncertaintyWh: 8 })).toEqual({
      energyWh: 600,
      standardUncertaintyWh: 8,
      source: 'measured capacity',
    }));
  it('is label × share otherwise, surer from a measurement than from a label', () => {
    const fromLabel = usableEnergy(label)!;
    expect(fromLabel.energyWh).toBeCloseTo(14 * 48 * 0.93, 6);
    expect(fromLabel.standardUncertaintyWh).toBeGreaterThan(8);
  });
  it('shrinks in the cold and grows less sure', () => {
    const [warm, cold] = [usableEnergy({ ...label, temperatureC: 20 })!, usableEnergy({ ...label, temperatureC: -5 })!];
    expect(cold.energyWh).toBeLessThan(warm.energyWh);
    expect(cold.standardUncertaintyWh / cold.energyWh).toBeGreaterThan(warm.standardUncertaintyWh / warm.energyWh);
  });
  it('is unknown without a label', () => expect(usableEnergy({ capacityAh: 14 })).toBeUndefined());
});
