import { logOfColumns } from '../testing/test-logs.js';
import { isotonicRegression } from '../statistics/index.js';
import { analyseTest, type TestContext, type TestKind } from './index.js';

const figures = (kind: TestKind, log: Parameters<typeof analyseTest>[1], context: TestContext = {}) =>
  new Map(analyseTest(kind, log, context).figures.map((figure) => [figure.key, figure]));
const warnings = (kind: TestKind, log: Parameters<typeof analyseTest>[1], context: TestContext = {}): string[] =>
  analyseTest(kind, log, context).warnings.map(({ code }) => code);

describe('the stand test', () => {
  // Full throttle from 2 to 12 s, then the wheel spins down evenly until 22 s.
  const speed = (t: number): number =>
    t < 2 ? 0 : t < 3 ? 36 * (t - 2) : t <= 12 ? 36 : Math.max(0, 36 - 3.6 * (t - 12));
  const log = logOfColumns(40, 10, {
    'speed (km/h)': speed,
    'current (A)': (t) => (t < 2 || t > 12 ? 0 : t < 3 ? 6 : 1.4),
  });
  it('gives speed and current without load and the spin-down', () => {
    const found = figures('stand', log);
    expect(found.get('noLoadSpeed')!.value).toBeCloseTo(36, 1);
    expect(found.get('noLoadCurrent')!.value).toBeCloseTo(1.4, 1);
    expect(found.get('spinDownTime')!.value).toBeCloseTo(9.5, 0);
    expect(found.has('distance')).toBe(false);
  });
  it('says what is missing', () => {
    expect(warnings('stand', logOfColumns(40, 10, { 'speed (km/h)': speed }))).toContain('no-current');
    expect(warnings('stand', logOfColumns(10, 10, { 'speed (km/h)': speed, 'current (A)': () => 1.4 }))).toContain(
      'no-spin-down',
    );
    expect(
      warnings('stand', logOfColumns(10, 10, { 'speed (km/h)': (t) => 3.6 * t, 'current (A)': () => 1 })),
    ).toContain('no-steady-top');
    expect(warnings('stand', logOfColumns(10, 10, { 'current (A)': () => 1 }))).toContain('no-speed');
  });
});

describe('a pack from full to cut-off', () => {
  // 5 A for two hours with rests; a gauge that falls slowly first and then fast.
  const current = (t: number): number => (Math.floor(t / 100) % 6 === 5 ? 0 : 5);
  const log = logOfColumns(7200, 0.5, {
    'voltage (V)': (t) => 54 - t / 900 - 0.1 * current(t),
    'current (A)': current,
    'state of charge (%)': (t) => Math.max(0, 100 * (1 - (t / 7200) ** 2)),
  });
  const context: TestContext = {
    emptied: true,
    pack: { chemistry: 'li-ion-nmc', capacityAh: 9, nominalVoltageV: 48 },
    charging: { currentA: 2, pricePerKWh: 0.4, currency: 'ZZZ' },
  };
  it('gives capacity, energy, charge time and cost', () => {
    const found = figures('battery', log, context);
    const ah = found.get('capacity')!.value;
    expect(ah).toBeCloseTo(8.33, 1);
    expect(found.get('meanDischargeCurrent')!.value).toBeCloseTo(ah / 2, 2);
    // 85 % at 2 A and the rest 2.5 times as slowly.
    expect(found.get('chargeTime')!.value).toBeCloseTo((ah / 2) * (0.85 + 0.15 * 2.5), 1);
    const wh = found.get('usableEnergy')!.value;
    expect(found.get('costPerCharge')!.value).toBeCloseTo(((wh / 1000) * 0.4) / 0.86, 4);
    expect(found.get('costPerCharge')!.label).toContain('ZZZ');
    expect(found.get('costPerCharge')!.standardUncertainty).toBeGreaterThan(0);
  });
  it('tells what the gauge really means', () => {
    const found = figures('battery', log, context);
    // The gauge shows 75 % when half of the time, and so of the charge, is over.
    expect(found.get('leftAtGauge75')!.value).toBeCloseTo(50, -1);
    expect(found.get('leftAtGauge25')!.value).toBeLessThan(found.get('leftAtGauge75')!.value);
    const { charts } = analyseTest('battery', log, context);
    const curve = charts.find(({ key }) => key === 'gauge')!.series[0]!;
    for (let k = 1; k < curve.y.length; k++) expect(curve.y[k]!).toBeLessThanOrEqual(curve.y[k - 1]! + 1e-9);
  });
  it('that was not emptied has no capacity, and says so', () => {
    expect(figures('battery', log, { ...context, emptied: false }).has('capacity')).toBe(false);
    expect(warnings('battery', log, {})).toContain('not-emptied');
  });
});

describe('cut-back by heat', () => {
  const warming = (t: number): number => 20 + 75 * (1 - Math.exp(-t / 500));
  const log = (power: (t: number) => number, throttle: (t: number) => number) =>
    logOfColumns(1200, 1, {
      'voltage (V)': () => 48,
      'current (A)': (t) => power(t) / 48,
      'motor temperature (°C)': (t) => warming(t) + 0.05 * Math.sin(t),
      'throttle (%)': throttle,
      'speed (km/h)': () => 15,
    });
  const context: TestContext = { ambientC: 20, temperatureLimitC: 90 };
  it('is found where the power falls at the same throttle, near the hottest', () => {
    const found = figures(
      'heating',
      log(
        (t) => (t < 900 ? 400 : 280),
        () => 100,
      ),
      context,
    );
    expect(found.get('cutBackTime')!.value).toBeGreaterThan(880);
    expect(found.get('cutBackTime')!.value).toBeLessThan(920);
    expect(Math.abs(found.get('cutBackTemperature')!.value - warming(900))).toBeLessThan(2);
    expect(
      warnings(
        'heating',
        log(
          (t) => (t < 900 ? 400 : 280),
          () => 100,
        ),
        context,
      ),
    ).toContain('cut-back');
  });
  it('is not the display that wavers while the bike stands and cools', () => {
    const standing = log(
      (t) => (t < 900 ? 400 : 5 - 2 * Math.floor((t - 900) / 150)),
      (t) => (t < 900 ? 100 : 0),
    );
    expect(figures('heating', standing, context).has('cutBackTime')).toBe(false);
    expect(warnings('heating', standing, context)).not.toContain('cut-back');
  });
  it('is not a rider who asks for less, nor a motor switched off', () => {
    const eased = (t: number): number => (t < 900 ? 100 : 70);
    expect(
      figures(
        'heating',
        log((t) => 4 * eased(t), eased),
        context,
      ).has('cutBackTime'),
    ).toBe(false);
    expect(
      figures(
        'heating',
        log(
          (t) => (t < 900 ? 400 : 0),
          () => 100,
        ),
        context,
      ).has('cutBackTime'),
    ).toBe(false);
    expect(
      figures(
        'heating',
        log(
          () => 400,
          () => 100,
        ),
        context,
      ).has('cutBackTime'),
    ).toBe(false);
  });
  it('a load that settles above the limit has a time to it, one below it has none, and what can be held lies between', () => {
    // 400 W heat a motor of 500 s time constant by 75 K when settled, for 700 s of loading and 800 s of cooling.
    const loaded = (t: number): number =>
      t < 700 ? 1 - Math.exp(-t / 500) : (1 - Math.exp(-1.4)) * Math.exp(-(t - 700) / 500);
    const heated = logOfColumns(1500, 1, {
      'voltage (V)': () => 48,
      'current (A)': (t) => (t < 700 ? 400 / 48 : 0),
      'motor temperature (°C)': (t) => 20 + 75 * loaded(t) + 0.05 * Math.sin(t),
      'speed (km/h)': (t) => (t < 700 ? 15 : 0),
    });
    const at = (temperatureLimitC: number) => figures('heating', heated, { ambientC: 20, temperatureLimitC });
    expect(Math.abs(at(70).get('riseAtLoad')!.value - 75)).toBeLessThan(4);
    expect(Math.abs(at(70).get('timeToLimit')!.value - -500 * Math.log(1 - 50 / 75))).toBeLessThan(30);
    expect(at(70).get('continuousLoad')!.value).toBeLessThan(400);
    expect(at(70).get('headroom')!.value).toBeLessThan(0);
    expect(at(110).has('timeToLimit')).toBe(false);
    expect(at(110).get('continuousLoad')!.value).toBeGreaterThan(400);
    expect(at(110).get('headroom')!.value).toBeGreaterThan(0);
  });
});

describe('isotonic regression', () => {
  it('is never falling, keeps the mean, and leaves what is in order', () => {
    const values = [3, 1, 2, 5, 4, 6, 6, 2];
    const fitted = isotonicRegression(values);
    for (let k = 1; k < fitted.length; k++) expect(fitted[k]!).toBeGreaterThanOrEqual(fitted[k - 1]!);
    const sum = (list: readonly number[]): number => list.reduce((total, one) => total + one, 0);
    expect(sum(fitted)).toBeCloseTo(sum(values), 12);
    expect(isotonicRegression([1, 2, 2, 7])).toEqual([1, 2, 2, 7]);
    expect(isotonicRegression([])).toEqual([]);
  });
});

describe('what a log shows beside what its figures rest on', () => {
  const steps = logOfColumns(300, 2, {
    'voltage (V)': (t) => 50 - ((t / 30) % 2 < 1 ? 0 : 1),
    'current (A)': (t) => ((t / 30) % 2 < 1 ? 0.1 : 10),
    'motor temperature (°C)': (t) => 20 + t / 20,
  });
  it('load steps of a pack, with their size', () => {
    const loads = analyseTest('battery', steps, {}).spans.filter(({ kind }) => kind === 'load');
    expect(loads.map(({ fromS, toS }) => [Math.round(fromS), Math.round(toS)])).toEqual(
      [30, 90, 150, 210, 270].map((from) => [from, from + 30]),
    );
    expect(loads[0]!.label).toBe('Load 1, 10 A');
  });
  it('soak and cool-down of a motor; a short blip of current is no load', () => {
    const blip = (t: number): number => (t < 600 || (t > 900 && t < 903) ? 8 : 0.1);
    const log = logOfColumns(1500, 1, {
      'voltage (V)': () => 48,
      'current (A)': blip,
      'motor temperature (°C)': (t) => (t < 600 ? 20 + t / 15 : 20 + 40 * Math.exp(-(t - 600) / 700)),
    });
    const { spans } = analyseTest('heating', log, { ambientC: 20 });
    expect(spans.filter(({ kind }) => kind !== 'fit').map(({ kind, fromS, toS }) => [kind, fromS, toS])).toEqual([
      ['soak', 0, 599],
      ['cool-down', 599, 1500],
    ]);
  });
  it('a part set by hand that holds nothing gives no fit, never that of the whole log', () => {
    for (const [kind, keys] of [
      ['battery', ['openCircuitVoltage', 'internalResistance', 'sagAtCurrent']],
      ['heating', ['timeConstant', 'riseAtLoad', 'headroom']],
    ] as const) {
      const context: TestContext = { ambientC: 20, spans: [{ kind: 'fit', fromS: 900, toS: 950 }] };
      expect(warnings(kind, steps, context)).toContain('span-empty');
      const found = figures(kind, steps, context);
      expect(keys.filter((key) => found.has(key))).toEqual([]);
    }
  });
  it('none without a load', () =>
    expect(
      analyseTest('battery', logOfColumns(60, 1, { 'voltage (V)': () => 50, 'current (A)': () => 0 }), {}).spans,
    ).toEqual([]));
});
