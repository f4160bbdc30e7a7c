import { seededRandom, standardNormal } from '../../numeric/index.js';
import { logOfColumns } from '../../testing/test-logs.js';
import type { TestContext } from '../index.js';
import { analyseLevels } from './analyse-levels.js';

const EACH_S = 120;
const SPEEDS_KMH = [18, 22, 22, 25];
const POWERS_W = [90, 180, 180, 300];

interface Ridden {
  readonly more?: Record<string, (t: number) => number>;
  readonly context?: TestContext;
}

/** Four levels of two minutes: each settles within half of a minute. Levels 2 and 3 are one. */
function analysed({ more = {}, context = {} }: Ridden = {}) {
  const noise = 0.15;
  const settlesS = 8;
  const random = seededRandom(9);
  const level = (t: number): number => Math.min(3, Math.floor(t / EACH_S));
  const towards = (values: readonly number[], start: number) => (t: number) => {
    const now = values[level(t)]!;
    const before = level(t) === 0 ? start : values[level(t) - 1]!;
    return now + (before - now) * Math.exp(-(t - level(t) * EACH_S) / settlesS);
  };
  const watts = towards(POWERS_W, 0);
  const log = logOfColumns(4 * EACH_S - 0.2, 5, {
    'speed (km/h)': (t) => towards(SPEEDS_KMH, 5)(t) + noise * standardNormal(random),
    'assist level': (t) => level(t) + 1,
    'voltage (V)': () => 50,
    'current (A)': (t) => watts(t) / 50 + (noise / 3) * standardNormal(random),
    ...more,
  });
  const codes: string[] = [];
  return { levels: analyseLevels(log, context, (code) => codes.push(code)), codes };
}

describe('levels of assistance', () => {
  const { levels } = analysed();
  it('have each their steady speed, power and consumption', () => {
    expect(levels.map(({ level }) => level)).toEqual([1, 2, 3, 4]);
    levels.forEach(({ steadySpeed, meanPower, consumption, fromS, toS }, k) => {
      for (const [{ value, interval95 }, truth] of [
        [steadySpeed, SPEEDS_KMH[k]!],
        [meanPower!, POWERS_W[k]!],
        [consumption!, POWERS_W[k]! / SPEEDS_KMH[k]!],
      ] as const) {
        expect(Math.abs(value / truth - 1)).toBeLessThan(0.01);
        expect(interval95[0]).toBeLessThan(truth);
        expect(interval95[1]).toBeGreaterThan(truth);
      }
      expect(fromS).toBeGreaterThanOrEqual(k * EACH_S);
      expect(toS).toBeLessThan((k + 1) * EACH_S);
      expect(toS - fromS).toBeGreaterThanOrEqual(29);
    });
  });
  it('that cannot be separated are named as one, the others not', () =>
    expect(levels.map(({ sameAs }) => sameAs)).toEqual([[], [3], [2], []]));
  it('are told apart by power alone where the speed is the same', () => {
    const watts = [90, 180, 210, 300];
    const other = analysed({ more: { 'current (A)': (t) => watts[Math.min(3, Math.floor(t / EACH_S))]! / 50 } });
    expect(other.levels.map(({ sameAs }) => sameAs)).toEqual([[], [], [], []]);
  });
  it('without a steady end are left out by name', () => {
    const surging = (t: number): number => 20 + (t < EACH_S ? 5 * Math.sin(t / 3) : 0);
    const { levels: found, codes } = analysed({ more: { 'speed (km/h)': surging } });
    expect(found.map(({ level }) => level)).toEqual([2, 3, 4]);
    expect(codes).toContain('not-steady');
  });
  it('have speeds alone where the log has no power, and nothing without a level', () => {
    const random = seededRandom(1);
    const columns = {
      'speed (km/h)': () => 20 + 0.1 * standardNormal(random),
      'assist level': () => 2,
    };
    const codes: string[] = [];
    const [only] = analyseLevels(logOfColumns(90, 5, columns), {}, (code) => codes.push(code));
    expect([only!.consumption, only!.meanPower, codes]).toEqual([null, null, ['no-power']]);
    const none: string[] = [];
    expect(analyseLevels(logOfColumns(90, 5, { 'speed (km/h)': () => 20 }), {}, (code) => none.push(code))).toEqual([]);
    expect(none).toEqual(['no-level']);
  });
  it('ridden without help have a consumption of 0 whose interval is one', () => {
    const { levels: found } = analysed({ more: { 'current (A)': (t) => (t < EACH_S ? 0 : 4) } });
    const [off] = found;
    expect([off!.meanPower!.value, off!.consumption!.value]).toEqual([0, 0]);
    for (const bound of off!.consumption!.interval95) expect(bound).toBeCloseTo(0, 6);
  });
  it('take the windows that a tester set as they are', () => {
    const { levels: set } = analysed({ context: { spans: [{ kind: 'level', fromS: 150, toS: 200 }] } });
    expect(set).toHaveLength(1);
    expect([set[0]!.fromS, set[0]!.toS]).toEqual([150, 200]);
  });
});
