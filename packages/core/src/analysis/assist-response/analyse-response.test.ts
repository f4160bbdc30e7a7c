import { logOfColumns } from '../../testing/test-logs.js';
import type { TestContext } from '../index.js';
import { analyseResponse } from './analyse-response.js';

const HZ = 20;
const DELAY_S = 0.4;
const RAMP_S = 0.5;
const RUN_ON_S = 0.3;
const STARTS = [3.02, 23.37, 43.81];
const PEDALLED_S = 10;
/** Seconds into the start that is going on, or undefined between starts. */
const into = (t: number): number | undefined => {
  const start = STARTS.findLast((at) => t >= at);
  return start !== undefined && t < start + PEDALLED_S ? t - start : undefined;
};
const sinceEnd = (t: number): number => t - (STARTS.findLast((at) => t >= at + PEDALLED_S) ?? -100) - PEDALLED_S;

const columns = {
  // 1.5 m/s² to 22 km/h, then held; brought to a stand in 4 s.
  'speed (km/h)': (t: number): number => {
    const s = into(t);
    if (s !== undefined) return Math.min(22, 3.6 * 1.5 * s);
    return Math.max(0, 22 * (1 - Math.max(0, sinceEnd(t) - 0.5) / 4));
  },
  'cadence (rpm)': (t: number): number => (into(t) === undefined ? 0 : 60),
  'voltage (V)': () => 50,
  'current (A)': (t: number): number => {
    const s = into(t);
    if (s !== undefined) return 6 * Math.min(1, Math.max(0, (s - DELAY_S) / RAMP_S));
    return sinceEnd(t) < RUN_ON_S ? 6 : 0;
  },
};
const analysed = (more: Record<string, (t: number) => number> = {}, context: TestContext = {}, hz = HZ) => {
  const codes: string[] = [];
  const log = logOfColumns(63, hz, { ...columns, ...more });
  return { ...analyseResponse(log, context, (code) => codes.push(code)), codes };
};

describe('assist response', () => {
  const { figures, events } = analysed({}, { sensorDelayS: 0 });
  const figure = (key: string) => figures.find((one) => one.key === key)!;
  it('finds every start', () => {
    expect(events).toHaveLength(3);
    events.forEach(({ startS }, k) => expect(Math.abs(startS - STARTS[k]!)).toBeLessThan(1.1 / HZ));
  });
  it.each([
    // 5 % of the plateau are reached a twentieth of the ramp later; cadence of 60/min turns the crank by 360° a second.
    ['latency', DELAY_S + 0.05 * RAMP_S, 's'],
    ['riseTime', 0.8 * RAMP_S, 's'],
    ['overrun', RUN_ON_S, 's'],
    ['overrunM', RUN_ON_S * (22 / 3.6), 'm'],
    ['crankTurn', 360 * (DELAY_S + 0.05 * RAMP_S), 'deg'],
    ['time0to20', 20 / 3.6 / 1.5, 's'],
    ['peakAcceleration', 1.5, 'm/s²'],
  ])('%s', (key, truth, unit) => {
    const { value, interval95, unit: given, n } = figure(key);
    expect({ given, n }).toEqual({ given: unit, n: 3 });
    expect(interval95[0]).toBeLessThanOrEqual(truth);
    expect(interval95[1]).toBeGreaterThanOrEqual(truth);
    expect(Math.abs(value / truth - 1)).toBeLessThan(0.2);
  });
  it('allows for a cadence sensor that shows the pedals late, as said, as the wheel shows, or as usual', () => {
    const lateBy = 0.3;
    const cadence = (t: number): number => (into(t - lateBy) === undefined ? 0 : 60);
    const truth = DELAY_S + 0.05 * RAMP_S;
    const of = (context: TestContext) => {
      const { figures: found, codes } = analysed({ 'cadence (rpm)': cadence }, context);
      return { latency: found.find(({ key }) => key === 'latency')!, codes };
    };
    const told = of({ sensorDelayS: lateBy });
    expect(Math.abs(told.latency.value - truth)).toBeLessThan(0.06);
    expect(told.codes).not.toContain('sensor-delay-unknown');
    expect(of({ sensorDelayS: { cadence: lateBy, current: 0 } }).latency.value).toBeCloseTo(told.latency.value, 9);
    // The wheel moved before the cadence: that tells it as well.
    const untold = of({});
    expect(untold.codes).not.toContain('sensor-delay-unknown');
    expect(untold.latency.interval95[0]).toBeLessThan(truth);
    expect(untold.latency.interval95[1]).toBeGreaterThan(truth);
    // Without a standing start nothing tells, and the interval says so.
    const rolling = { 'speed (km/h)': () => 12, 'cadence (rpm)': cadence };
    const { figures: blind, codes } = analysed(rolling);
    expect(codes).toContain('sensor-delay-unknown');
    const latency = blind.find(({ key }) => key === 'latency')!;
    expect(latency.standardUncertainty).toBeGreaterThan(2 * untold.latency.standardUncertainty);
    expect(latency.interval95[1]).toBeGreaterThan(truth - 0.05);
  });
  it('counts a start from the pedalling that pulls, not from cranks turned lightly before it', () => {
    const lightly = (t: number): number => {
      const start = STARTS.find((at) => t >= at - 2 && t < at);
      return start === undefined ? columns['cadence (rpm)'](t) : 20;
    };
    const { figures: found, codes } = analysed({ 'cadence (rpm)': lightly }, { sensorDelayS: 0 });
    expect(codes).toContain('cranks-turned-before');
    expect(Math.abs(found.find(({ key }) => key === 'latency')!.value - DELAY_S)).toBeLessThan(0.15);
  });
  it('gives no time to a speed that is not reached', () => expect(figure('time0to25')).toBeUndefined());
  it('gives a cut-off instead of a run-on where the brake ended it', () => {
    const braked = analysed({ brake: (t) => (sinceEnd(t) >= 0 && sinceEnd(t) < 5 ? 1 : 0) });
    expect(braked.events.map(({ endsBy }) => endsBy)).toEqual(['brake', 'brake', 'brake']);
    expect(braked.figures.some(({ key }) => key === 'overrun')).toBe(false);
    expect(Math.abs(braked.figures.find(({ key }) => key === 'brakeCutoff')!.value - RUN_ON_S)).toBeLessThan(1.5 / HZ);
  });
  it('has no figures of help where the motor never helped', () => {
    const unhelped = analysed({ 'current (A)': () => 0 });
    expect(unhelped.figures.map(({ key }) => key)).not.toEqual(expect.arrayContaining(['latency']));
    expect(unhelped.figures.some(({ key }) => key === 'time0to20')).toBe(true);
  });
  it('takes the starts that a tester set', () => {
    const { events: set } = analysed({}, { spans: [{ kind: 'start', fromS: 23.4, toS: 33.2 }] });
    expect(set.map(({ startS }) => Math.round(startS))).toEqual([23]);
  });
  it('reads edges wider the farther apart the samples lie, and refuses where they cannot tell', () => {
    const width = (hz: number): number => {
      const found = analysed({}, {}, hz).figures.find(({ key }) => key === 'latency')!;
      return found.interval95[1] - found.interval95[0];
    };
    expect(width(50)).toBeLessThan(width(10));
    const slow = analysed({}, {}, 5);
    expect(slow.figures.filter(({ key }) => key === 'latency')).toEqual([]);
    expect(slow.codes).toContain('too-slow');
  });
});
