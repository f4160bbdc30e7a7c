import fc from 'fast-check';
import { seededRandom, standardNormal } from '../../numeric/index.js';
import { logOfColumns } from '../../testing/test-logs.js';
import { analyseTest } from '../index.js';

const STEP_S = 30;
/** Rests and loads of growing size by turns. */
const load =
  (most: number) =>
  (t: number): number => {
    const step = Math.floor(t / STEP_S);
    return step % 2 === 0 ? 0 : (most * (1 + (step % 3))) / 3;
  };

function analysed(openV: number, ohm: number, most: number, { noiseV = 0.02, fallPerAh = 0, seed = 1 } = {}) {
  const random = seededRandom(seed);
  const current = load(most);
  let charge = 0;
  const log = logOfColumns(420, 2, {
    'voltage (V)': (t) => {
      charge += current(t) / 2 / 3600;
      return openV - ohm * current(t) - fallPerAh * charge + noiseV * standardNormal(random);
    },
    'current (A)': current,
  });
  const { figures, warnings } = analyseTest('battery', log, {});
  return { of: (key: string) => figures.find((figure) => figure.key === key), codes: warnings.map(({ code }) => code) };
}

describe('a pack under load steps', () => {
  it('gives back the voltage and the resistance that it is made of', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 30, max: 58, noNaN: true }),
        fc.double({ min: 0.03, max: 0.3, noNaN: true }),
        fc.double({ min: 5, max: 18, noNaN: true }),
        (openV, ohm, most) => {
          const { of } = analysed(openV, ohm, most);
          const [volts, resistance] = [of('openCircuitVoltage')!, of('internalResistance')!];
          expect(Math.abs(volts.value - openV)).toBeLessThan(0.02);
          expect(Math.abs(resistance.value / ohm - 1)).toBeLessThan(0.05);
          expect(resistance.interval95[0]).toBeLessThan(ohm);
          expect(resistance.interval95[1]).toBeGreaterThan(ohm);
        },
      ),
      { numRuns: 20 },
    );
  });
  it('sags by the resistance at the highest current', () => {
    const { of } = analysed(52, 0.12, 12);
    expect(Math.abs(of('sagAtCurrent')!.value - 0.12 * 12)).toBeLessThan(0.05);
  });
  it('does not take the fall of a pack that empties for resistance', () => {
    const fallen = analysed(52, 0.1, 12, { fallPerAh: 4 }).of('internalResistance')!;
    expect(Math.abs(fallen.value - 0.1)).toBeLessThan(0.003);
  });
  it('knows less of the resistance the smaller the steps are', () => {
    const width = (most: number): number => {
      const { interval95 } = analysed(50, 0.1, most, { noiseV: 0.1 }).of('internalResistance')!;
      return interval95[1] - interval95[0];
    };
    expect(width(3)).toBeGreaterThan(2 * width(12));
  });
  it('says what is wrong with steps too small, with a voltage that does not fall, and keeps the energy', () => {
    const small = analysed(50, 0.1, 1);
    expect([small.codes.includes('no-load-steps'), small.of('internalResistance')]).toEqual([true, undefined]);
    const rising = analysed(50, -0.1, 12);
    expect([rising.codes.includes('no-load-steps'), rising.of('internalResistance')]).toEqual([true, undefined]);
    expect(rising.of('energyOut')!.value).toBeGreaterThan(0);
  });
});
