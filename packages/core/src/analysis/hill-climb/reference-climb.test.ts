import fc from 'fast-check';
import { referenceClimb } from './reference-climb.js';

const bike = { cdaM2: 0.6, crr: 0.007 };
const u = { efficiencyU: 0.01, wheelU: 4 };
const as = { grade: 0.06, totalMassKg: 100 };
const climb = (wheelW: number, riderW: number, efficiency: number, of = bike) =>
  referenceClimb({ wheelW, riderW, efficiency }, of, u, as, () => undefined).map(({ value }) => value) as [
    number,
    number,
  ];

describe('the reference climb', () => {
  it('balances the power at the wheel: 100 kg at 6 %, by hand', () => {
    const [seconds] = climb(300, 0, 0.75);
    const v = 1000 / seconds;
    const angle = Math.atan(0.06);
    const weight = 100 * 9.80665 * (0.007 * Math.cos(angle) + Math.sin(angle));
    // 1.199 kg/m³: air of 20 °C, 1013 hPa, half saturated.
    expect(v * (0.5 * 1.199 * 0.6 * v * v + weight)).toBeCloseTo(300, 0);
  });
  it('takes less time with more power, less energy with a better drive or more of the rider', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 150, max: 900, noNaN: true }),
        fc.double({ min: 0.4, max: 0.9, noNaN: true }),
        (wheelW, efficiency) => {
          const [t, wh] = climb(wheelW, 50, efficiency);
          expect(climb(wheelW + 20, 50, efficiency)[0]).toBeLessThan(t);
          expect(climb(wheelW, 50, efficiency + 0.05)[1]).toBeLessThan(wh);
          expect(climb(wheelW, 80, efficiency)[1]).toBeLessThan(wh);
          // What the hill itself takes cannot be undercut.
          expect(wh * 3600 * efficiency + 50 * t).toBeGreaterThan(100 * 9.80665 * 1000 * Math.sin(Math.atan(0.06)));
        },
      ),
    );
  });
  it('warns far from the reference, and gives nothing without power', () => {
    const codes: string[] = [];
    referenceClimb(
      { wheelW: 300, riderW: 0, efficiency: 0.7 },
      bike,
      u,
      { ...as, grade: 0.12 },
      (code) => void codes.push(code),
    );
    expect(codes).toEqual(['far-from-reference']);
    expect(referenceClimb({ wheelW: -5, riderW: 0, efficiency: 0.7 }, bike, u, as, () => undefined)).toEqual([]);
  });
});
