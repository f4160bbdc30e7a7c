import { seededRandom, standardNormal } from '../../numeric/index.js';
import { logOfColumns } from '../../testing/test-logs.js';
import { STANDARD_GRAVITY_MPS2 } from '../../units/index.js';
import { analyseTest, type TestContext } from '../index.js';

const MASS_KG = 100;
const DENSITY = 1.2;
const CONTEXT: TestContext = { totalMassKg: MASS_KG, airDensity: DENSITY, rotatingMassFactor: 1 };
interface Strip {
  readonly cda: number;
  readonly crr: number;
  readonly slope: number;
  readonly windMps: number;
}
const COAST_S = 40;
const EACH_S = 70;

/** Coasts from 11 m/s there and back by turns, by small steps of the equation of motion; the wheel reads to 0.02 m/s. */
function coasted(
  { cda, crr, slope, windMps }: Strip,
  count: number,
  directions: readonly (1 | -1)[],
  { brakesMps2 = 3, hz = 5 } = {},
) {
  const random = seededRandom(2);
  const rolled = directions.map((direction) => {
    const speeds = [11];
    const stepS = 0.01;
    let v = 11;
    for (let k = 1; k <= COAST_S / stepS; k++) {
      const air = v + direction * windMps;
      const force =
        0.5 * DENSITY * cda * air * Math.abs(air) + MASS_KG * STANDARD_GRAVITY_MPS2 * (crr + direction * slope);
      v -= (force / MASS_KG) * stepS;
      if (k % 20 === 0) speeds.push(v);
    }
    return speeds;
  });
  const speed = (t: number): number => {
    const [k, s] = [Math.min(count - 1, Math.floor(t / EACH_S)), t % EACH_S];
    if (s < 20) return 0.55 * s;
    return s < 20 + COAST_S
      ? rolled[k]![Math.floor((s - 20) * 5 + 1e-6)]!
      : Math.max(0, rolled[k]!.at(-1)! - brakesMps2 * (s - 60));
  };
  const log = logOfColumns(count * EACH_S - 0.2, hz, {
    'speed (m/s)': (t) => Math.max(0, speed(t) + 0.02 * standardNormal(random)),
    'voltage (V)': () => 50,
    'current (A)': (t) => (t % EACH_S < 20 ? 9 : 0),
  });
  const { figures, warnings } = analyseTest('coast-down', log, { ...CONTEXT, directions });
  return { of: (key: string) => figures.find((figure) => figure.key === key), codes: warnings.map(({ code }) => code) };
}
const BOTH = [1, -1, 1, -1] as const;
const strip: Strip = { cda: 0.6, crr: 0.007, slope: 0.002, windMps: 0.8 };

describe('coasts on one strip', () => {
  it.each([
    ['level and calm', { cda: 0.55, crr: 0.006, slope: 0, windMps: 0 }],
    ['sloping, with wind', strip],
    ['the other way', { cda: 0.7, crr: 0.009, slope: -0.003, windMps: -1 }],
  ])('give back what they were made of: %s', (_, made) => {
    const { of } = coasted(made, 4, BOTH);
    for (const [key, truth, near] of [
      ['cda', made.cda, 0.03],
      ['crr', made.crr, 0.0006],
      ['slope', made.slope, 0.0004],
      ['wind', made.windMps, 0.25],
    ] as const) {
      const { value, interval95 } = of(key)!;
      expect(Math.abs(value - truth)).toBeLessThan(near);
      expect(interval95[0]).toBeLessThan(truth);
      expect(interval95[1]).toBeGreaterThan(truth);
    }
  });
  it('change the sign of slope and wind, and nothing else, when there is called back', () => {
    const [one, turned] = [
      coasted(strip, 4, BOTH),
      coasted({ ...strip, slope: -strip.slope, windMps: -strip.windMps }, 4, [-1, 1, -1, 1]),
    ];
    for (const key of ['cda', 'crr']) expect(turned.of(key)!.value / one.of(key)!.value).toBeCloseTo(1, 3);
    for (const key of ['slope', 'wind']) expect(turned.of(key)!.value / one.of(key)!.value).toBeCloseTo(-1, 2);
  });
  it('tell more the more of them there are', () => {
    const width = (count: number): number => {
      const { interval95 } = coasted(
        strip,
        count,
        Array.from({ length: count }, (_, k) => (k % 2 ? -1 : 1)),
      ).of('slope')!;
      return interval95[1] - interval95[0];
    };
    expect(width(8)).toBeLessThan(width(2));
  });
  it.each([0.6, 1.2])(
    'end where somebody brakes, however gently: by %s m/s², which no brake sensor tells',
    (brakes) => {
      const { of } = coasted(strip, 4, BOTH, { brakesMps2: brakes });
      expect(Math.abs(of('cda')!.value - strip.cda)).toBeLessThan(0.03);
      expect(Math.abs(of('crr')!.value - strip.crr)).toBeLessThan(0.0006);
    },
  );
  it.each([1, 0.5])('are found by a slow logger as well: %s readings a second', (hz) => {
    const { of } = coasted(strip, 4, BOTH, { hz });
    const { value, interval95 } = of('cda')!;
    expect(Math.abs(value - strip.cda)).toBeLessThan(0.12);
    expect(interval95[0]).toBeLessThan(strip.cda);
    expect(interval95[1]).toBeGreaterThan(strip.cda);
  });
  it('in one direction leave the slope in the rolling resistance, which is said', () => {
    const { of, codes } = coasted({ ...strip, windMps: 0 }, 2, [1, 1]);
    expect(codes).toContain('not-separable');
    expect([of('slope'), of('wind')]).toEqual([undefined, undefined]);
    expect(Math.abs(of('crr')!.value - (strip.crr + strip.slope))).toBeLessThan(0.001);
  });
});
