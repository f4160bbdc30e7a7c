import { trueCase } from '../testing/forecast-rides.js';
import { calibrate, estimateCalibrated, forecastOfRides, trustOf, type Scenario } from './index.js';

const climb = (grade: number): Scenario => ({
  profile: [
    { distanceM: 0, altitudeM: 0 },
    { distanceM: 1500, altitudeM: 1500 * grade },
  ],
  totalMassKg: 110,
  airTemperatureC: 18,
  windMps: 0,
  startShare: 1,
  riding: { targetSpeedKmh: 18, riderPowerW: 80 },
});

describe('what a ride takes by a calibration', () => {
  const calibration = calibrate([], { temperatureLimitC: 95 });
  const trust = trustOf([], {});
  it('takes longer to cool the hotter the ride was, and no time where it stayed cool', () => {
    const [level, hill] = [
      estimateCalibrated(calibration, trust, climb(0)),
      estimateCalibrated(calibration, trust, climb(0.09)),
    ];
    expect(hill.hottestC).toBeGreaterThan(level.hottestC);
    expect(hill.coolDownS).toBeGreaterThan(level.coolDownS);
    expect(hill.energyWh).toBeGreaterThan(2 * level.energyWh);
    expect(hill.energyUncertaintyWh).toBeGreaterThan(0);
    expect(hill.endedBy).toBe('finish');
  });
  it('says that a way is too long for the charge', () => {
    const far = {
      ...climb(0),
      profile: [
        { distanceM: 0, altitudeM: 0 },
        { distanceM: 300_000, altitudeM: 0 },
      ],
      riding: { targetSpeedKmh: 24, riderPowerW: 0 },
    };
    expect(estimateCalibrated(calibration, trust, far)).toMatchObject({ endedBy: 'cut-off' });
  });
});

describe('a forecast of rides that came along', () => {
  const { records, known, scenario } = trueCase(5, 'current', 'throttle');
  const ask =
    (over: Partial<typeof known>, change: Partial<Scenario> = {}) =>
    () =>
      forecastOfRides(records, { known: { ...known, ...over }, scenario: { ...scenario, ...change }, samples: 20 });
  it('has parameters by name and unit, and its own checks', () => {
    const { parameters, trust, figures } = ask({})();
    expect(parameters.find(({ name }) => name === 'packResistance')).toMatchObject({ unit: 'Ω', from: 'data' });
    expect(trust.rides).toHaveLength(6);
    expect(figures.map(({ key }) => key)).toEqual(
      expect.arrayContaining(['time', 'energyOut', 'rangeWithReserve', 'riderShare']),
    );
  });
  it('tells the chemistry by the volts of a cell', () => {
    expect(ask({ seriesCells: 13, nominalVoltageV: 66 })).toThrow(/5\.08 V a cell/);
    expect(ask({ seriesCells: 16, nominalVoltageV: 51.2 })).not.toThrow();
  });
  it.each([
    [{ seriesCells: 20, nominalVoltageV: 72 }, {}, /another pack/],
    [{ capacityAh: 0.2 }, {}, /more than the 0.2 Ah/],
    [{ temperatureLimitC: 10 }, { airTemperatureC: 20 }, /not above the air/],
    [{}, { startShare: 0.3, reserveShare: 0.4 }, /reserve \(40 %\) is not below/],
  ])('refuses %j with %j', (over, change, words) => expect(ask(over, change)).toThrow(words));
});
