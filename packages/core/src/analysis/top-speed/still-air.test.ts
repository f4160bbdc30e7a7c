import fc from 'fast-check';
import { stillAirSpeed } from './still-air.js';
import { twoWayMean } from './two-way-mean.js';
import type { SpeedPass } from './measure-passes.js';

const CONTEXT = { totalMassKg: 105, cdaM2: 0.6, crr: 0.008, airDensity: 1.2 } as const;

/** Steady speed of a drive whose force falls by `slope` N per m/s, m/s, by halving: nothing of the product is in it. */
function steadyMps(forceN: number, slope: number, headWindMps: number): number {
  let [low, high] = [0, 40];
  for (let k = 0; k < 80; k++) {
    const v = (low + high) / 2;
    const air = v + headWindMps;
    const resistance = 0.5 * CONTEXT.airDensity * CONTEXT.cdaM2 * air * Math.abs(air) + 105 * 9.80665 * CONTEXT.crr;
    if (resistance > forceN - slope * v) high = v;
    else low = v;
  }
  return (low + high) / 2;
}
const pass = (direction: 1 | -1, mps: number, powerW: number | null): SpeedPass => ({
  direction,
  startS: 0,
  endS: 30,
  fromS: 20,
  toS: 25,
  steadySpeed: 3.6 * mps,
  scatterKmh: 0.05,
  choiceKmh: 0.01,
  powerW,
  isSettled: true,
  restKmh: 0,
});

describe('the speed in still air', () => {
  it('is found from two windy directions, whatever the drive’s force falls by with speed', () =>
    fc.assert(
      fc.property(
        fc.double({ min: 60, max: 150, noNaN: true }),
        fc.double({ min: 0.5, max: 8, noNaN: true }),
        fc.double({ min: 0.3, max: 2.5, noNaN: true }),
        (forceN, slope, wind) => {
          const [against, along] = [steadyMps(forceN, slope, wind), steadyMps(forceN, slope, -wind)];
          const powerAt = (v: number): number => ((forceN - slope * v) * v) / 0.8;
          const codes: string[] = [];
          const found = stillAirSpeed(
            [pass(1, against, powerAt(against))],
            [pass(-1, along, powerAt(along))],
            CONTEXT,
            (code) => codes.push(code),
          )!;
          expect(codes).toEqual([]);
          expect(found.kinkKmh).toBe(0);
          expect(found.kmh).toBeCloseTo(3.6 * steadyMps(forceN, slope, 0), 3);
        },
      ),
      { numRuns: 60 },
    ));
  it('is the measured one where both directions are alike', () => {
    const v = steadyMps(100, 3, 0);
    expect(stillAirSpeed([pass(1, v, 300)], [pass(-1, v, 300)], CONTEXT, () => undefined)!.kmh).toBeCloseTo(3.6 * v, 6);
  });
  it('says that powers were taken as the same where none were logged', () => {
    const codes: string[] = [];
    stillAirSpeed([pass(1, 6, null)], [pass(-1, 7, null)], CONTEXT, (code) => codes.push(code));
    expect(codes).toEqual(['no-power']);
  });
  it('is not given without mass, drag and air, nor where no wind explains the speeds', () => {
    const codes: string[] = [];
    const warn = (code: string): void => void codes.push(code);
    const { cdaM2: _cda, ...withoutDrag } = CONTEXT;
    expect(stillAirSpeed([pass(1, 6, 300)], [pass(-1, 7, 300)], withoutDrag, warn)).toBeUndefined();
    expect(stillAirSpeed([pass(1, 3, 2000)], [pass(-1, 12, 20)], CONTEXT, warn)).toBeUndefined();
    expect(codes).toEqual(['no-still-air', 'no-still-air']);
  });
});

describe('the mean of two directions', () => {
  it('weighs the directions alike, however often each was ridden', () => {
    expect(twoWayMean([20, 20, 20, 20], [30]).value).toBe(25);
    expect(twoWayMean([20], [30]).scatter).toEqual([]);
  });
  it('has the scatter of the means, as a table of the formula gives it', () => {
    const { scatter } = twoWayMean([20, 21], [30, 32, 31]);
    // s² of the first is 0.5, of the second 1; the mean of two has a variance of (0.5/2 + 1/3)/4.
    expect(scatter[0]!.standardUncertainty).toBeCloseTo(Math.sqrt((0.5 / 2 + 1 / 3) / 4), 12);
    expect(scatter[0]!.degreesOfFreedom).toBe(3);
  });
  it('does not change when the directions change their names', () =>
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 10, max: 40, noNaN: true }), { minLength: 1, maxLength: 5 }),
        fc.array(fc.double({ min: 10, max: 40, noNaN: true }), { minLength: 1, maxLength: 5 }),
        (a, b) => {
          expect(twoWayMean(a, b).value).toBeCloseTo(twoWayMean(b, a).value, 12);
          expect(twoWayMean(a, b).scatter).toEqual(
            twoWayMean(b, a).scatter.map((part) => ({
              ...part,
              standardUncertainty: expect.closeTo(part.standardUncertainty, 9) as number,
            })),
          );
        },
      ),
    ));
});
