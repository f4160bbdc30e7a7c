import type { CleanLog } from '../../logs/index.js';
import { logOf, logOfColumns } from '../../testing/test-logs.js';
import { analyseTest, outlyingEffort, type TestContext, type TestKind } from '../index.js';

const ride = {
  'speed (km/h)': (t: number) => 18 + 0.3 * Math.sin(t / 7),
  'distance (m)': (t: number) => 5 * t,
  'voltage (V)': (t: number) => 52 - t / 400 + 0.02 * Math.sin(t),
  'current (A)': (t: number) => 5 + 0.4 * Math.sin(t / 5),
};
const log = (more: Readonly<Record<string, (t: number) => number>> = {}, seconds = 600): CleanLog =>
  logOfColumns(seconds, 1, { ...ride, ...more });
const codes = (kind: TestKind, of: CleanLog, context: TestContext = {}): string[] =>
  analyseTest(kind, of, { airTemperatureC: 18, ...context }).warnings.map(({ code }) => code);
const message = (kind: TestKind, of: CleanLog, context: TestContext, code: string): string | undefined =>
  analyseTest(kind, of, { airTemperatureC: 18, ...context }).warnings.find((one) => one.code === code)?.message;

describe('flags of a ride', () => {
  it('are none for a ride that has nothing odd', () => {
    const plain = codes('range', log({ 'altitude (m)': () => 10 }), { pack: { capacityAh: 14, nominalVoltageV: 48 } });
    expect(plain).toEqual([]);
  });

  it('battery not full: by its resting voltage, else by the gauge', () => {
    const resting = log({ 'current (A)': (t) => (t < 30 ? 0.05 : 5), 'voltage (V)': () => 52 });
    expect(message('range', resting, { fullVoltageV: 54.6 }, 'battery-not-full')).toBe(
      'The pack starts at 52 V; full it has 54.6 V.',
    );
    expect(codes('range', resting, { fullVoltageV: 52.2 })).not.toContain('battery-not-full');
    expect(message('range', log({ 'state of charge (%)': (t) => 82 - t / 100 }), {}, 'battery-not-full')).toContain(
      '82 %',
    );
    // A run that is meant to start part-way asks for none, unless it starts where the voltage falls.
    const pack = { chemistry: 'li-ion-nmc', capacityAh: 14, nominalVoltageV: 48 } as const;
    const partWay = { fullVoltageV: 54.6, isPartWay: true, pack };
    expect(codes('range', resting, partWay)).not.toContain('battery-not-full');
    expect(codes('range', resting, partWay)).not.toContain('starts-low');
    const low = log({ 'current (A)': (t) => (t < 30 ? 0.05 : 5), 'voltage (V)': () => 45 });
    expect(codes('range', low, partWay)).toContain('starts-low');
    // A test that needs no full pack asks for none.
    expect(codes('top-speed', resting, { fullVoltageV: 54.6 })).not.toContain('battery-not-full');
  });

  it('battery not rested: its voltage still moves without load', () => {
    const settling = log({
      'current (A)': (t) => (t < 60 ? 0 : 5),
      'voltage (V)': (t) => (t < 60 ? 54.6 - 0.4 * Math.exp(-t / 40) : 53) + 0.01 * Math.sin(3 * t),
    });
    expect(codes('range', settling)).toContain('battery-not-rested');
    const still = log({ 'current (A)': (t) => (t < 60 ? 0 : 5), 'voltage (V)': (t) => 54.6 + 0.02 * Math.sin(3 * t) });
    expect(codes('range', still)).not.toContain('battery-not-rested');
  });

  it('level changed, but not by a slip of the thumb or while standing', () => {
    expect(message('range', log({ 'assist level': (t) => (t < 400 ? 3 : 4) }), {}, 'level-changed')).toContain('3, 4');
    expect(codes('range', log({ 'assist level': (t) => (t < 5 ? 1 : 3) }))).not.toContain('level-changed');
    expect(codes('assist-levels', log({ 'assist level': (t) => (t < 400 ? 3 : 4) }))).not.toContain('level-changed');
  });

  it('faster than help goes, with the share of the time', () => {
    const fast = log({ 'speed (km/h)': (t) => (t < 150 ? 27 : 20) });
    expect(message('range', fast, { assistLimitKmh: 25 }, 'above-assist-limit')).toContain('25 % of the moving time');
    expect(codes('range', fast)).not.toContain('above-assist-limit');
  });

  it('stops that make a fifth of the ride', () => {
    const halting = log({ 'speed (km/h)': (t) => (t % 100 < 20 ? 0 : 18), 'distance (m)': (t) => 4 * t });
    expect(message('range', halting, {}, 'many-stops')).toMatch(/stood \d+ times, (19|20) % of the time/);
  });

  it('a cold pack and a hot start, each where it matters', () => {
    expect(message('range', log(), { airTemperatureC: 4, pack: { chemistry: 'li-ion-nmc' } }, 'cold-pack')).toContain(
      'some 10 % less',
    );
    expect(codes('coast-down', log(), { airTemperatureC: 4 })).not.toContain('cold-pack');
    const hot = log({ 'motor temperature (°C)': (t) => 45 + t / 60 });
    expect(codes('hill-climb', hot)).toContain('hot-start');
    expect(codes('range', hot)).not.toContain('hot-start');
  });

  it('wind along a course that does not come back', () => {
    const course = { lengthM: 3000, startM: 0, finishM: 3000, isWhole: true, isLoop: false };
    expect(message('range', log(), { course, windMps: -3 }, 'wind-one-side')).toContain('stays in the figures');
    expect(codes('range', log(), { course: { ...course, isLoop: true }, windMps: -3 })).not.toContain('wind-one-side');
  });

  it('a sensor at its end, and one that is stuck', () => {
    const clipped = log({ 'current (A)': (t) => Math.min(12, 9 + 4 * Math.sin(t / 9)) });
    expect(codes('range', clipped)).toContain('sensor-clipped');
    expect(codes('range', log())).not.toContain('sensor-clipped');
    const stuck = log({ 'current (A)': (t) => (t > 200 && t < 400 ? 5.1 : 5 + 0.4 * Math.sin(t / 5)) });
    expect(codes('top-speed', stuck)).toContain('sensor-stuck');
  });

  it('too few samples for the kind', () => {
    const slow = logOf(
      ['time (s),speed (km/h)', ...Array.from({ length: 60 }, (_, k) => `${5 * k},18.${k % 7}`)].join('\n'),
    );
    expect(message('coast-down', slow, {}, 'sample-rate-low')).toContain('a sample every 5 s');
  });

  it('a climb unlike the course says, on the same way only', () => {
    const course = {
      lengthM: 3000,
      startM: 0,
      finishM: 3000,
      isWhole: true,
      isLoop: false,
      gainM: 90,
      gainUncertaintyM: 1,
    };
    const rising = log({ 'altitude (m)': (t) => 10 + t / 10 });
    expect(message('range', rising, { course }, 'grade-outside-course')).toContain('the course says 90 m');
    expect(codes('range', rising, { course: { ...course, gainM: 60 } })).not.toContain('grade-outside-course');
    expect(codes('range', rising, { course: { ...course, lengthM: 9000, finishM: 9000 } })).not.toContain(
      'grade-outside-course',
    );
  });
});

describe('effort', () => {
  it('unlike the other runs is said, a run like them is not', () => {
    expect(outlyingEffort(140, [80, 84, 78, 82])).toMatchObject({ code: 'effort-unlike' });
    expect(outlyingEffort(84, [80, 84, 78, 82])).toBeUndefined();
    // Three runs are needed to say what is usual, and a rider who varies much is never unlike.
    expect(outlyingEffort(140, [80, 84])).toBeUndefined();
    expect(outlyingEffort(140, [60, 90, 120, 150])).toBeUndefined();
  });
});
