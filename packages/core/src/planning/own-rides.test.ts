import { chargingOf, estimateFromOwnRides } from './own-rides.js';

describe('own rides in place of the model', () => {
  it('needs two of them', () => {
    expect(estimateFromOwnRides([], [])).toBeUndefined();
    expect(estimateFromOwnRides([50], [600])).toBeUndefined();
  });

  it('gives the scatter of one more ride, wider than that of the mean', () => {
    // By hand: mean 52, s = 2, √(4 · 4/3).
    const estimate = estimateFromOwnRides([50, 52, 54], [600, 620, 640])!;
    expect(estimate).toMatchObject({ energyWh: 52, durationS: 620, runs: 3 });
    expect(estimate.energyUncertaintyWh).toBeCloseTo(2.3094, 4);
  });

  it('does not depend on the order of the rides', () => {
    expect(estimateFromOwnRides([54, 50, 52], [640, 600, 620])).toEqual(
      estimateFromOwnRides([50, 52, 54], [600, 620, 640]),
    );
  });
});

describe('charging', () => {
  it('is unknown without current or voltage, and never a number from one of them', () => {
    expect(chargingOf(null)).toEqual({ powerW: null, efficiency: 0.86 });
    expect(chargingOf({ outputA: 3, outputV: null, efficiency: 0.9 })).toEqual({ powerW: null, efficiency: 0.9 });
  });

  it('stays below what the charger gives at its full current', () => {
    const { powerW } = chargingOf({ outputA: 3, outputV: 54.6, efficiency: null });
    expect(powerW).toBeLessThan(3 * 54.6);
    expect(powerW).toBeGreaterThan(0.7 * 3 * 54.6);
  });
});
