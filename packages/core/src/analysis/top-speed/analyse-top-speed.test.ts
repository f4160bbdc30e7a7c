import { seededRandom, standardNormal } from '../../numeric/index.js';
import { logOfColumns } from '../../testing/test-logs.js';
import { analyseTest, type TestContext } from '../index.js';

const PASS_S = 60;
/** Passes there and back at speeds of their direction, with a turn at walking pace between them. */
function analysed(speedsKmh: readonly number[], context: TestContext = {}, noise = 0.1) {
  const random = seededRandom(3);
  const pass = (t: number): number => Math.min(speedsKmh.length - 1, Math.floor(t / PASS_S));
  const speed = (t: number): number => {
    const s = t - pass(t) * PASS_S;
    return s < 10 || s > 50 ? 5 : speedsKmh[pass(t)]! * (1 - Math.exp(-(s - 10) / 4)) + 5 * Math.exp(-(s - 10) / 4);
  };
  let metres = 0;
  const log = logOfColumns(speedsKmh.length * PASS_S, 5, {
    'speed (km/h)': (t) => speed(t) + noise * standardNormal(random),
    // Degrees north: there and back along one line.
    'latitude (deg)': (t) => (metres += ((pass(t) % 2 === 0 ? 1 : -1) * speed(t)) / 3.6 / 5) / 111_195 + 10,
    'longitude (deg)': () => 10,
    'voltage (V)': () => 50,
    'current (A)': () => 6,
  });
  const { figures, warnings, spans } = analyseTest('top-speed', log, context);
  return {
    of: (key: string) => figures.find((figure) => figure.key === key),
    codes: warnings.map(({ code }) => code),
    passes: spans.filter(({ kind }) => kind === 'pass'),
  };
}

describe('top speed', () => {
  it('is the mean of the directions, however often each was ridden', () => {
    const { of, passes, codes } = analysed([34, 28, 34]);
    expect(codes).not.toContain('directions-in-turns');
    expect(passes.map(({ direction }) => direction)).toEqual([
      passes[0]!.direction,
      passes[1]!.direction,
      passes[0]!.direction,
    ]);
    expect(passes[0]!.direction).not.toBe(passes[1]!.direction);
    const { value, interval95 } = of('twoWayTopSpeed')!;
    expect(Math.abs(value - 31)).toBeLessThan(0.25);
    expect(interval95[0]).toBeLessThan(31);
    expect(interval95[1]).toBeGreaterThan(31);
  });
  it('does not change when the ride is turned round', () => {
    const [one, other] = [analysed([33, 29, 33, 29]), analysed([29, 33, 29, 33])];
    expect(Math.abs(one.of('twoWayTopSpeed')!.value - other.of('twoWayTopSpeed')!.value)).toBeLessThan(0.1);
  });
  it('in still air lies above the mean of two directions, the more the wind blew', () => {
    const context: TestContext = {
      totalMassKg: 100,
      cdaM2: 0.6,
      crr: 0.008,
      airDensity: 1.2,
      rotatingMassFactor: 1.02,
    };
    const gain = (speeds: readonly number[]): number => {
      const { of } = analysed(speeds, context);
      return of('stillAirTopSpeed')!.value - of('twoWayTopSpeed')!.value;
    };
    const [calm, windy] = [gain([31, 31, 31, 31]), gain([36, 26, 36, 26])];
    expect(Math.abs(calm)).toBeLessThan(0.1);
    expect(windy).toBeGreaterThan(calm + 0.1);
  });
  it('of one direction alone is said to be that', () => {
    const { codes, of } = analysed([33]);
    expect(of('twoWayTopSpeed')).toBeUndefined();
    expect(codes).toContain('one-direction');
  });
  it('takes the passes and directions that a tester set', () => {
    const { of, passes } = analysed([34, 28, 34], {
      spans: [
        { kind: 'pass', fromS: 30, toS: 45, direction: 1 },
        { kind: 'pass', fromS: 90, toS: 105, direction: -1 },
      ],
    });
    expect(passes.map(({ fromS, toS, direction }) => [fromS, toS, direction])).toEqual([
      [30, 45, 1],
      [90, 105, -1],
    ]);
    expect(Math.abs(of('twoWayTopSpeed')!.value - 31)).toBeLessThan(0.3);
  });
});
