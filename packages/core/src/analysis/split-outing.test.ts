import { joinTraces, rideTest, type RideModel, type RideTrace } from '../ride-model/index.js';
import { exampleRideModel } from '../testing/example-ride-model.js';
import { loggedOf, logOf, logOfColumns } from '../testing/test-logs.js';
import { analyseTest, cutForTest, splitOuting, type TestKind } from './index.js';

const model: RideModel = {
  ...exampleRideModel,
  motor: { ...exampleRideModel.motor, hasFreewheel: true },
  controller: { ...exampleRideModel.controller, regenerationCurrentA: 0, runOnS: 0.4, brakeCutoffS: 0.2 },
  rider: { ...exampleRideModel.rider, targetSpeedMps: 25 },
};
const day = { airTemperatureC: 16, windMps: 0.5, slope: 0, recordHz: 10 };
/** The bike stands: as the last moment of a ride, for so many seconds. */
function standing(after: RideTrace, seconds: number): RideTrace {
  const n = Math.round(seconds * day.recordHz);
  const held = (column: Float64Array): Float64Array => new Float64Array(n).fill(column.at(-1)!);
  return {
    ...(Object.fromEntries(
      Object.entries(after).map(([name, column]) => [name, held(column as Float64Array)]),
    ) as unknown as RideTrace),
    timeS: Float64Array.from({ length: n }, (_, k) => k / day.recordHz),
    distanceM: new Float64Array(n),
    speedMps: new Float64Array(n),
    currentA: new Float64Array(n),
    cadenceRpm: new Float64Array(n),
    riderW: new Float64Array(n),
  };
}

describe('an outing', () => {
  it.each<readonly [TestKind, TestKind]>([
    ['assist-response', 'coast-down'],
    ['hill-climb', 'assist-levels'],
    ['top-speed', 'range'],
  ])('of %s and %s is split into the two', (first, second) => {
    const [a, b] = [rideTest(first, model, day).trace, rideTest(second, model, day).trace];
    const log = loggedOf(joinTraces([standing(a, 30), a, standing(a, 45), b, standing(b, 30)]), 1);
    const runs = splitOuting(log);
    expect(runs.map(({ testKind }) => testKind)).toEqual([first, second]);
    expect(runs[0]!.toS).toBeLessThanOrEqual(runs[1]!.fromS);
    for (const { why } of runs) expect(why).toMatch(/^Between .* and .*; /);
  });

  it('is split at a long gap, and a short stop belongs to its run', () => {
    const csv = ['time (s),speed (km/h),distance (m)'];
    for (let t = 0; t <= 600; t++) {
      if (t > 300 && t < 420) continue;
      const stands = t > 100 && t < 110;
      csv.push(`${t},${stands ? 0 : 18},${t * 5}`);
    }
    const runs = splitOuting(logOf(csv.join('\n')));
    expect(runs).toHaveLength(2);
    expect(runs[0]!.toS).toBeLessThan(420);
    expect(runs[1]!.fromS).toBeGreaterThan(300);
    expect(runs[1]!.why).toContain('a gap of 120 s');
  });

  it('is split at marks', () => {
    const log = logOfColumns(400, 1, { 'speed (km/h)': () => 18, 'distance (m)': (t) => 5 * t });
    expect(splitOuting(log, { marksS: [200] }).map(({ fromS, toS }) => [fromS, toS])).toEqual([
      [0, 200],
      [200, 400],
    ]);
    expect(splitOuting(log)).toHaveLength(1);
  });
  it.each([
    ['a lap that counts on', 'lap', (t: number) => (t < 200 ? 3 : 4)],
    ['a lap button that is held for two seconds', 'marker', (t: number) => (t >= 200 && t < 202 ? 1 : 0)],
  ])('is split where the log itself has marks: %s', (_, header, lap) => {
    const log = logOfColumns(400, 1, { 'speed (km/h)': () => 18, 'distance (m)': (t) => 5 * t, [header]: lap });
    const runs = splitOuting(log);
    expect(runs.map(({ fromS, toS }) => [fromS, toS])).toEqual([
      [0, 200],
      [200, 400],
    ]);
    expect(runs[1]!.why).toContain('a mark');
  });

  it('is cut from gate to gate where positions tell them, in both directions', () => {
    const gate = (metres: number) => ({ latitude: -21.4, longitude: -24.6 + metres / 103_500 });
    // There and back along a straight, 2 km, 5 m/s.
    const at = (t: number): number => (t <= 400 ? 5 * t : 4000 - 5 * t);
    const log = logOfColumns(800, 1, {
      latitude: () => -21.4,
      longitude: (t) => gate(at(t)).longitude,
      'speed (km/h)': () => 18,
      'distance (m)': (t) => 5 * t,
    });
    const runs = splitOuting(log, { gates: { start: gate(500), finish: gate(1500) } });
    const crossed = runs.filter(({ why }) => why.startsWith('From start gate'));
    expect(crossed.map(({ direction }) => direction)).toEqual([1, -1]);
    expect(crossed[0]!.fromS).toBeCloseTo(100, -1);
    expect(crossed[0]!.toS).toBeCloseTo(300, -1);
    expect(runs.some(({ why }) => why.startsWith('Before the start gate'))).toBe(true);
  });

  it('of a standing bike under load steps is a battery test, and nothing at all is no run', () => {
    const log = logOfColumns(300, 2, {
      'voltage (V)': (t) => 50 - ((t / 30) % 2 < 1 ? 0 : 1),
      'current (A)': (t) => ((t / 30) % 2 < 1 ? 0 : 10),
    });
    expect(splitOuting(log).map(({ testKind }) => testKind)).toEqual(['battery']);
    expect(splitOuting(logOfColumns(300, 1, { 'speed (km/h)': () => 0, 'voltage (V)': () => 50 }))).toEqual([]);
  });
});

describe('a span of a log', () => {
  const log = logOfColumns(600, 1, {
    'speed (km/h)': () => 18,
    'distance (m)': (t) => 5 * t,
    'voltage (V)': () => 50,
    'current (A)': (t) => (t < 300 ? 2 : 6),
  });
  it('is analysed alone, and points to its place in the whole', () => {
    const { figures, spans } = analyseTest('range', log, { logSpan: { fromS: 300, toS: 600 } });
    const value = (key: string): number => figures.find((figure) => figure.key === key)!.value;
    expect(value('distance')).toBeCloseTo(1.5, 2);
    expect(value('energyOut')).toBeCloseTo((50 * 6 * 300) / 3600, 1);
    expect(spans[0]).toMatchObject({ kind: 'ride', fromS: 300, toS: 600 });
  });
  it('is cut further by a ride that a tester set', () => {
    const cut = cutForTest(log, { logSpan: { fromS: 100, toS: 500 }, spans: [{ kind: 'ride', fromS: 200, toS: 260 }] });
    expect([cut.log.timeS[0], cut.log.timeS.at(-1)]).toEqual([200, 260]);
  });
  it('that holds nothing is refused, not replaced by the whole', () => {
    const { figures, warnings } = analyseTest('range', log, { logSpan: { fromS: 900, toS: 950 } });
    expect(figures).toEqual([]);
    expect(warnings.map(({ code }) => code)).toEqual(['span-empty']);
  });
});
