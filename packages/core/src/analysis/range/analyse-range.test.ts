import { cleanLog, readLog } from '../../logs/index.js';
import { analyseRange, type Figure, type TestContext } from '../index.js';

interface RideOptions {
  readonly columns?: readonly string[];
  readonly seconds?: number;
  readonly current?: (t: number) => number;
  readonly voltage?: (t: number) => number;
  readonly speed?: (t: number) => number;
  readonly skip?: (t: number) => boolean;
}

const ALL = ['speed (km/h)', 'distance (m)', 'altitude (m)', 'voltage (V)', 'current (A)'];

/** A ride at 20 km/h and 50 V whose figures can be worked out by hand. */
function ride({
  columns = ALL,
  seconds = 3600,
  current = () => 5,
  speed = () => 20,
  voltage = () => 50,
  skip = () => false,
}: RideOptions = {}) {
  const lines = [`time (s),${columns.join(',')}`];
  let distanceM = 0;
  for (let t = 0; t <= seconds; t++) {
    if (t > 0) distanceM += (speed(t - 1) + speed(t)) / 7.2;
    const cells: Record<string, number> = {
      'speed (km/h)': speed(t),
      'distance (m)': Number(distanceM.toFixed(2)),
      'altitude (m)': 30 + 10 * Math.sin(t / 300),
      'voltage (V)': voltage(t),
      'current (A)': current(t),
      'power (W)': 50 * current(t),
    };
    if (!skip(t)) lines.push([t, ...columns.map((name) => cells[name])].join(','));
  }
  const raw = readLog(new TextEncoder().encode(lines.join('\n')));
  const log = raw.ok ? cleanLog(raw.value) : raw;
  if (!log.ok) throw new Error(log.problem.message);
  return log.value;
}

function analyse(options: RideOptions = {}, context: TestContext = {}) {
  const { figures, warnings } = analyseRange(ride(options), context);
  return {
    get: (key: string): Figure => {
      const figure = figures.find((one) => one.key === key);
      if (!figure) throw new Error(`no figure ${key}`);
      return figure;
    },
    keys: figures.map(({ key }) => key),
    warned: warnings.map(({ code }) => code),
    figures,
  };
}

describe('range and consumption of an hour at 20 km/h and 250 W', () => {
  const { get, keys } = analyse(
    {},
    { pack: { capacityAh: 10, nominalVoltageV: 50, usableShare: 0.9 }, airTemperatureC: 20 },
  );

  it.each([
    ['distance', 20],
    ['movingTime', 3600],
    ['meanMovingSpeed', 20],
    ['energyOut', 250],
    ['energyRegenerated', 0],
    ['netConsumption', 12.5],
    ['grossConsumption', 12.5],
    ['chargeUsed', 5],
    ['rangeToCutoff', 36],
    ['rangeWithReserve', 28.8],
  ])('%s is %d', (key, value) => expect(get(key).value).toBeCloseTo(value, 1));

  it('has an uncertainty that comes from the stated limits', () => {
    // Current ±1 % and ±0.03 A, voltage ±0.5 %, distance ±0.5 %, each a rectangular limit.
    const parts = [0.01, 0.03 / 5, 0.005, 0.005].map((limit) => (12.5 * limit) / Math.sqrt(3));
    expect(get('netConsumption').standardUncertainty).toBeCloseTo(Math.hypot(...parts), 3);
    expect(get('netConsumption').derivation.contributions[0]!.source).toBe('current gain');
  });

  it('gives no reference figure without mass, drag and rolling', () =>
    expect(keys).not.toContain('netConsumptionAtReference'));

  it('explains each figure with its numbers', () => {
    expect(get('rangeToCutoff').derivation.substituted).toContain('450 Wh ÷ 12.5 Wh/km');
    for (const { derivation, interval95, value } of analyse().figures) {
      expect(derivation.formula.length).toBeGreaterThan(4);
      expect(interval95[0]).toBeLessThanOrEqual(value);
      expect(interval95[1]).toBeGreaterThanOrEqual(value);
    }
  });
});

describe('what the ride did', () => {
  it('counts standing as time but not as moving', () => {
    const { get } = analyse({ speed: (t) => (t >= 1000 && t < 1600 ? 0 : 20) });
    expect(get('movingTime').value).toBeGreaterThan(2990);
    expect(get('movingTime').value).toBeLessThan(3010);
    expect(get('meanMovingSpeed').value).toBeCloseTo(20, 0);
  });

  it('keeps energy that came back apart from what went out', () => {
    const { get } = analyse({ current: (t) => (t % 600 < 60 ? -3 : 5) });
    const hours = 1;
    expect(get('energyRegenerated').value).toBeCloseTo(50 * 3 * 0.1 * hours, -0.3);
    expect(get('netConsumption').value).toBeLessThan(get('grossConsumption').value);
    expect(get('energyOut').value - get('energyRegenerated').value).toBeCloseTo(
      get('netConsumption').value * get('distance').value,
      6,
    );
  });

  it('estimates the energy of a gap apart, keeps its distance, and is less sure of it', () => {
    const whole = analyse();
    const torn = analyse({ skip: (t) => t > 1000 && t < 1100 });
    expect(torn.warned).toContain('gap-estimated');
    expect(torn.get('distance').value).toBeCloseTo(whole.get('distance').value, 3);
    const [low, high] = torn.get('energyOut').interval95;
    expect(low).toBeLessThan(whole.get('energyOut').value);
    expect(high).toBeGreaterThan(whole.get('energyOut').value);
    expect(torn.get('energyOut').derivation.contributions.map(({ source }) => source)).toContain(
      'estimate across gaps',
    );
  });

  it('says so when gaps make up most of the ride', () => {
    expect(analyse({ skip: (t) => t > 500 && t < 2500 }).warned).toContain('mostly-gaps');
  });

  it('integrates speed where there is no wheel distance, with the same result', () => {
    const bySpeed = analyse({ columns: ALL.filter((name) => !name.startsWith('distance')) });
    expect(bySpeed.get('distance').value).toBeCloseTo(20, 2);
    expect(bySpeed.get('distance').derivation.formula).toContain('∫');
  });

  it('takes power where voltage and current are not logged', () => {
    const byPower = analyse({ columns: ['speed (km/h)', 'distance (m)', 'power (W)'] });
    expect(byPower.get('energyOut').value).toBeCloseTo(250, 1);
    expect(byPower.keys).not.toContain('chargeUsed');
  });
});

describe('what the log cannot carry is a reason', () => {
  it.each([
    ['no current', ['speed (km/h)', 'voltage (V)'], 'no-energy', ['energyOut', 'netConsumption']],
    ['no altitude', ['speed (km/h)', 'voltage (V)', 'current (A)'], 'no-altitude', ['climbed']],
    [
      'no distance',
      ['altitude (m)', 'voltage (V)', 'current (A)'],
      'no-distance',
      ['distance', 'netConsumption', 'meanMovingSpeed'],
    ],
  ])('%s', (_what, columns, code, missing) => {
    const { warned, keys } = analyse({ columns });
    expect(warned).toContain(code);
    for (const key of missing) expect(keys).not.toContain(key);
  });

  it('a pack nobody described has no range', () => expect(analyse().warned).toContain('no-capacity'));
  it('a ride that gave energy back on balance has no range', () => {
    const { warned, keys } = analyse(
      { current: (t) => -1 + 0.9 * Math.sin(t / 3), voltage: (t) => 50 - 0.09 * Math.sin(t / 3) },
      { pack: { capacityAh: 10, nominalVoltageV: 50 } },
    );
    expect(warned).toContain('no-net-consumption');
    expect(keys).not.toContain('rangeToCutoff');
  });
});

describe('energy regenerated, where none is seen', () => {
  // Idle for half of the hour; noise of a tenth of an ampere about zero.
  const current = (t: number): number => (Math.floor(t / 60) % 2 ? 5 : 0) + 0.1 * Math.sin(2.4 * t);
  const none = (offsetA: number) =>
    analyse({ current }, { instrument: { currentOffsetA: offsetA } }).get('energyRegenerated');
  it('is none within what noise and offset of the sensor could hide', () => {
    const { value, interval95, standardUncertainty } = none(0.1);
    expect(value).toBe(0);
    expect(standardUncertainty).toBeGreaterThan(0);
    // 0.1 A at 50 V for the half hour of idling are 2.5 Wh.
    expect(interval95[1]).toBeGreaterThan(2.5);
    expect(interval95[1]).toBeLessThan(15);
  });
  it('is told closer by a better sensor', () =>
    expect(none(0.02).standardUncertainty).toBeLessThan(none(0.3).standardUncertainty));
});

describe('the other schools of range', () => {
  const pack = { capacityAh: 10, nominalVoltageV: 50, usableShare: 0.9 };
  it('ridden to empty is the distance itself, and only if it was', () => {
    expect(analyse({}, { emptied: true }).get('rangeRiddenToEmpty').value).toBeCloseTo(20, 2);
    const early = analyse({}, { emptied: false });
    expect(early.keys).not.toContain('rangeRiddenToEmpty');
    expect(early.warned).toContain('stopped-early');
  });

  it('the rule of thumb is a first figure, less sure than the metered one', () => {
    const { get } = analyse({}, { pack, ruleOfThumbWhPerKm: 15 });
    expect(get('rangeRuleOfThumb').value).toBeCloseTo(30, 6);
    const share = (key: string): number => get(key).standardUncertainty / get(key).value;
    expect(share('rangeRuleOfThumb')).toBeGreaterThan(3 * share('rangeToCutoff'));
  });

  it('bars give a range that is surer the more of them were used, and none for a bar or less', () => {
    const gauge = (endShare: number) => ({ gauge: { startShare: 1, endShare, stepShare: 0.25 } });
    const half = analyse({}, gauge(0.5)).get('rangeByGauge');
    expect(half.value).toBeCloseTo(40, 1);
    const whole = analyse({}, gauge(0)).get('rangeByGauge');
    expect(whole.standardUncertainty / whole.value).toBeLessThan(half.standardUncertainty / half.value);
    expect(analyse({}, gauge(0.75)).warned).toContain('gauge-too-coarse');
  });

  it('keeps the reserve that is asked for', () => {
    const { get } = analyse({}, { pack, reserveShare: 0.3 });
    expect(get('rangeWithReserve').value / get('rangeToCutoff').value).toBeCloseTo(0.7, 9);
    expect(get('rangeWithReserve').label).toContain('30 %');
  });
});

describe('on reference conditions', () => {
  const known: TestContext = { totalMassKg: 100, cdaM2: 0.6, crr: 0.007, airTemperatureC: 20, windMps: 0 };
  const level = { columns: ALL.filter((name) => !name.startsWith('altitude')) };
  const corrected = (change: Partial<TestContext>) => analyse(level, { ...known, ...change });

  it('a ride that was ridden on them stays as it is', () => {
    expect(corrected({}).get('netConsumptionAtReference').value).toBeCloseTo(12.5, 1);
  });
  it('a heavy, windy or cold ride is corrected downwards, a light one upwards', () => {
    const value = (change: Partial<TestContext>): number => corrected(change).get('netConsumptionAtReference').value;
    expect(value({ totalMassKg: 130 })).toBeLessThan(12.4);
    expect(value({ windMps: 3 })).toBeLessThan(12.4);
    expect(value({ airTemperatureC: -5 })).toBeLessThan(12.4);
    expect(value({ totalMassKg: 80 })).toBeGreaterThan(12.6);
  });
  it('is less sure than the ride, and warns when it reaches far', () => {
    const { get, warned } = corrected({ windMps: 6, totalMassKg: 150 });
    const { value, standardUncertainty } = get('netConsumptionAtReference');
    const ridden = get('netConsumption');
    expect(standardUncertainty / value).toBeGreaterThan(ridden.standardUncertainty / ridden.value);
    expect(warned).toContain('large-correction');
  });
});
