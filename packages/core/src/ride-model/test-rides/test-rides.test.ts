import { exampleRideModel } from '../../testing/example-ride-model.js';
import { csvOf, loggedOf, logOf } from '../../testing/test-logs.js';
import { analyseTest, TEST_KIND_NAMES, type TestKind } from '../../analysis/index.js';
import { joinTraces, rideTest, thinTrace, type RideModel, type TestDay, type TestRide } from '../index.js';

const model: RideModel = {
  ...exampleRideModel,
  motor: { ...exampleRideModel.motor, hasFreewheel: true },
  controller: {
    ...exampleRideModel.controller,
    speedLimitMps: 28 / 3.6,
    regenerationCurrentA: 0,
    runOnS: 0.5,
    brakeCutoffS: 0.3,
    responseDelayS: 0.35,
  },
  rider: { ...exampleRideModel.rider, targetSpeedMps: 25 },
};
const day: TestDay = { airTemperatureC: 18, windMps: 0.8, slope: 0.002, recordHz: 50 };
const rides = new Map<TestKind, TestRide>();
const rideOf = (kind: TestKind): TestRide => {
  const known = rides.get(kind) ?? rideTest(kind, model, slowDay(kind));
  rides.set(kind, known);
  return known;
};
const slowDay = (kind: TestKind): TestDay =>
  kind === 'heating' || kind === 'battery' ? { ...day, recordHz: 10 } : day;
const everyOf = (kind: TestKind, hz: number): number => Math.round(slowDay(kind).recordHz / hz);

describe('simulated tests', () => {
  it.each(TEST_KIND_NAMES)('%s: what is true of it is found again', (kind) => {
    const { trace, truth, context } = rideOf(kind);
    const { figures, charts, spans } = analyseTest(kind, loggedOf(trace, everyOf(kind, 10)), context);
    for (const [key, value] of Object.entries(truth)) {
      const figure = figures.find((one) => one.key === key);
      if (!figure) throw new Error(`${kind} gives no ${key}`);
      // Three standard uncertainties: one test of many must not fail by chance; the rates are in docs/methods.md.
      expect([key, Math.abs(figure.value - value) <= 3 * figure.standardUncertainty + 1e-9]).toEqual([key, true]);
      expect(figure.interval95[0]).toBeLessThanOrEqual(figure.value);
      expect(figure.interval95[1]).toBeGreaterThanOrEqual(figure.value);
    }
    expect(new Set(figures.map(({ key }) => key)).size).toBe(figures.length);
    expect(spans.length).toBeGreaterThan(0);
    for (const { fromS, toS } of spans) expect(toS).toBeGreaterThan(fromS);
    expect(charts.length).toBeGreaterThan(0);
    for (const { series } of charts)
      for (const { x, y, plusMinus } of series) {
        expect([x.length, plusMinus?.length ?? x.length]).toEqual([y.length, y.length]);
        expect(y.length).toBeLessThanOrEqual(2 * 400 + 1);
        expect([...x, ...y].every(Number.isFinite)).toBe(true);
      }
  });

  it.each(TEST_KIND_NAMES)(
    '%s: spans given back as they were found change nothing that they do not have to',
    (kind) => {
      const { trace, context } = rideOf(kind);
      const log = loggedOf(trace, everyOf(kind, 10));
      const found = analyseTest(kind, log, context);
      const given = analyseTest(kind, log, {
        ...context,
        spans: found.spans.filter((span) => span.kind !== 'stop').map(({ label: _label, ...span }) => span),
      });
      expect(given.spans.filter((span) => span.kind !== 'stop')).toHaveLength(
        found.spans.filter((span) => span.kind !== 'stop').length,
      );
      for (const figure of found.figures) {
        const again = given.figures.find(({ key }) => key === figure.key);
        expect([figure.key, again !== undefined]).toEqual([figure.key, true]);
        const tolerance = 2 * figure.standardUncertainty + 1e-6;
        expect([figure.key, Math.abs(again!.value - figure.value) <= tolerance]).toEqual([figure.key, true]);
      }
    },
  );

  it.each(['top-speed', 'coast-down', 'assist-levels', 'assist-response'] as const)(
    '%s: a span that is taken out is gone',
    (kind) => {
      const { trace, context } = rideOf(kind);
      const log = loggedOf(trace, everyOf(kind, 10));
      const spans = analyseTest(kind, log, context).spans.map(({ label: _label, ...span }) => span);
      const fewer = analyseTest(kind, log, { ...context, spans: spans.slice(1) });
      expect(fewer.spans).toHaveLength(spans.length - 1);
      expect(fewer.spans[0]!.fromS).toBeCloseTo(spans[1]!.fromS, 1);
    },
  );
});

describe('logs that carry less', () => {
  const refusals = (kind: TestKind, hz: number, more: Parameters<typeof loggedOf>[2] = {}) => {
    const { trace, context } = rideOf(kind);
    return analyseTest(kind, loggedOf(trace, everyOf(kind, hz), more), context);
  };
  it('refuse assist response below ten samples a second, by name and number', () => {
    const { figures, warnings } = refusals('assist-response', 1);
    expect(figures.some(({ key }) => key === 'latency')).toBe(false);
    expect(warnings.find(({ code }) => code === 'too-slow')!.message).toBe(
      'Assist response needs at least 10 samples a second; this log has 1.',
    );
  });
  it.each(TEST_KIND_NAMES.filter((kind) => kind !== 'range'))(
    'a phone alone gives nothing of %s that it cannot know',
    (kind) => {
      const { figures, warnings } = refusals(kind, 1, { isPhone: true });
      const electrical = [
        'energyOut',
        'internalResistance',
        'timeConstant',
        'latency',
        'noLoadCurrent',
        'driveEfficiency',
      ];
      expect(figures.filter(({ key }) => electrical.includes(key))).toEqual([]);
      expect(warnings.length).toBeGreaterThan(0);
    },
  );
  it('say with wider intervals that the thermometer has steps of 1 K', () => {
    const fine = refusals('heating', 10).figures.find(({ key }) => key === 'timeConstant')!;
    const coarse = refusals('heating', 10, { temperatureStepK: 1 }).figures.find(({ key }) => key === 'timeConstant')!;
    const { truth } = rideOf('heating');
    expect(coarse.interval95[0]).toBeLessThan(truth['timeConstant']!);
    expect(coarse.interval95[1]).toBeGreaterThan(truth['timeConstant']!);
    expect(coarse.standardUncertainty).toBeGreaterThanOrEqual(0.99 * fine.standardUncertainty);
  });
  it('read the same from decimal commas', () => {
    const { trace, context } = rideOf('top-speed');
    const plain = csvOf(trace, 5);
    const commas = csvOf(trace, 5, { decimalComma: true });
    const value = (text: string): number =>
      analyseTest('top-speed', logOf(text), context).figures.find(({ key }) => key === 'twoWayTopSpeed')!.value;
    expect(value(commas)).toBe(value(plain));
  });
});

describe('traces', () => {
  it('go on where the one before ended', () => {
    const { trace } = rideOf('coast-down');
    const joined = joinTraces([trace, trace]);
    expect(joined.timeS).toHaveLength(2 * trace.timeS.length);
    const leastStep = (column: ArrayLike<number>): number =>
      Array.from(column).reduce((least, x, k, all) => (k === 0 ? least : Math.min(least, x - all[k - 1]!)), Infinity);
    expect(leastStep(joined.timeS)).toBeGreaterThan(0);
    expect(leastStep(joined.distanceM)).toBeGreaterThanOrEqual(0);
    expect(thinTrace(trace, 5).timeS).toHaveLength(Math.ceil(trace.timeS.length / 5));
  });
});
