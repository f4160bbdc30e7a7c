import fc from 'fast-check';
import {
  erfc,
  findRoot,
  gather,
  integrateGaussLegendre,
  integrateTrapezoid,
  logGamma,
  median,
  regularizedBeta,
  regularizedGammaUpper,
  scaledMedianAbsoluteDeviation,
  seededRandom,
  solveSymmetric,
  standardNormal,
  toDigits,
} from './index.js';

describe('special functions', () => {
  // Values from Abramowitz & Stegun, tables 6.1, 7.1 and 26.
  it.each([
    [0, 1],
    [0.5, 0.4795001222],
    [1, 0.1572992071],
    [2, 0.0046777349],
    [-1, 1.8427007929],
  ])('erfc(%d)', (x, value) => expect(erfc(x)).toBeCloseTo(value, 9));
  it('log Γ agrees with factorials and with Γ(½) = √π', () => {
    for (let n = 2, factorial = 1; n < 20; n++) {
      factorial *= n - 1;
      expect(logGamma(n)).toBeCloseTo(Math.log(factorial), 9);
    }
    expect(logGamma(0.5)).toBeCloseTo(Math.log(Math.sqrt(Math.PI)), 10);
  });
  it('the beta integral mirrors itself', () =>
    fc.assert(
      fc.property(
        fc.double({ min: 0.01, max: 0.99, noNaN: true }),
        fc.double({ min: 0.3, max: 40, noNaN: true }),
        fc.double({ min: 0.3, max: 40, noNaN: true }),
        (x, a, b) => {
          expect(regularizedBeta(x, a, b) + regularizedBeta(1 - x, b, a)).toBeCloseTo(1, 9);
        },
      ),
    ));
  it('the gamma integral is the exponential for one degree', () => {
    for (const x of [0.1, 1, 5]) expect(regularizedGammaUpper(1, x)).toBeCloseTo(Math.exp(-x), 10);
  });
});

describe('integrals and roots', () => {
  it('the trapezoid is exact for lines on any clock', () =>
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0.1, max: 5, noNaN: true }), { minLength: 2, maxLength: 30 }), (steps) => {
        const times = steps.reduce<number[]>((all, step) => [...all, (all.at(-1) ?? 0) + step], [0]);
        const values = times.map((t) => 3 * t + 2);
        const end = times.at(-1)!;
        expect(integrateTrapezoid(times, values)).toBeCloseTo(1.5 * end * end + 2 * end, 6);
      }),
    ));
  it('Gauss and Legendre integrate a polynomial exactly', () =>
    expect(integrateGaussLegendre((x) => x ** 5 - x, 0, 2, 2)).toBeCloseTo(64 / 6 - 2, 10));
  it('finds the root of a falling function too', () =>
    expect(findRoot((x) => 2 - x * x, 0, 2, 1e-12)).toBeCloseTo(Math.SQRT2, 10));
});

describe('order statistics', () => {
  it('takes the middle, and the mean of two middles', () =>
    expect([median([3, 1, 2]), median([4, 1, 2, 3]), median([])]).toEqual([2, 2.5, undefined]));
  it('estimates the spread of normal noise and is not moved by one wild value', () => {
    const random = seededRandom(4);
    const noise = Array.from({ length: 2000 }, () => standardNormal(random));
    const spread = scaledMedianAbsoluteDeviation(noise)!;
    expect(Math.abs(spread - 1)).toBeLessThan(0.06);
    expect(scaledMedianAbsoluteDeviation([...noise, 1e9])).toBeCloseTo(spread, 2);
  });
});

describe('seeded chance', () => {
  it('repeats with its seed and fills the unit interval evenly', () => {
    const [a, b] = [seededRandom(7), seededRandom(7)];
    const draws = Array.from({ length: 10_000 }, () => a());
    expect(draws.slice(0, 5)).toEqual(Array.from({ length: 5 }, () => b()));
    const tenths = Array.from({ length: 10 }, (_, k) => draws.filter((u) => Math.floor(u * 10) === k).length);
    for (const count of tenths) expect(Math.abs(count - 1000)).toBeLessThan(150);
    expect(draws.every((u) => u >= 0 && u < 1)).toBe(true);
  });
  it('draws standard normals', () => {
    const random = seededRandom(8);
    const draws = Array.from({ length: 20_000 }, () => standardNormal(random));
    const mean = draws.reduce((s, v) => s + v, 0) / draws.length;
    const variance = draws.reduce((s, v) => s + (v - mean) ** 2, 0) / draws.length;
    expect(Math.abs(mean)).toBeLessThan(0.03);
    expect(Math.abs(variance - 1)).toBeLessThan(0.05);
  });
});

describe('solveSymmetric', () => {
  it('gives back what a product was made of, whatever the sizes of the unknowns', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: -3, max: 3, noNaN: true }), { minLength: 16, maxLength: 16 }),
        fc.array(fc.double({ min: -5, max: 5, noNaN: true }), { minLength: 4, maxLength: 4 }),
        (entries, x) => {
          // B·Bᵀ + I is positive definite; its rows and columns are then scaled unevenly.
          const scale = [1, 1e-4, 1e3, 10];
          const matrix = Float64Array.from({ length: 16 }, (_, at) => {
            const [i, j] = [Math.floor(at / 4), at % 4];
            let sum = i === j ? 1 : 0;
            for (let k = 0; k < 4; k++) sum += entries[4 * i + k]! * entries[4 * j + k]!;
            return sum * scale[i]! * scale[j]!;
          });
          const right = scale.map((_, i) => x.reduce((sum, value, j) => sum + matrix[4 * i + j]! * value, 0));
          const found = solveSymmetric(matrix, right)!;
          const product = scale.map((_, i) => found.reduce((sum, value, j) => sum + matrix[4 * i + j]! * value, 0));
          for (let i = 0; i < 4; i++)
            expect(Math.abs(product[i]! - right[i]!)).toBeLessThan(
              1e-9 * scale[i]! * 1e3 * (1 + Math.max(...x.map(Math.abs))),
            );
        },
      ),
    );
  });
  it('solves by hand', () => {
    const [x, y] = solveSymmetric([4, 2, 2, 3], [10, 8])!;
    expect(x).toBeCloseTo(1.75, 12);
    expect(y).toBeCloseTo(1.5, 12);
  });
  it('has none where the equations say one thing twice, or less than nothing', () => {
    expect(solveSymmetric([1, 2, 2, 4], [1, 2])).toBeUndefined();
    expect(solveSymmetric([1, 3, 3, 1], [1, 1])).toBeUndefined();
    expect(solveSymmetric([0, 0, 0, 1], [1, 1])).toBeUndefined();
  });
});

describe('a number to so many digits', () => {
  it('is what reading its text would give, whatever its size and sign', () => {
    const random = seededRandom(41);
    const odd: [number, number][] = [];
    for (let k = 0; k < 20_000; k++) {
      const value = (random() - 0.5) * 10 ** Math.floor(random() * 24 - 12);
      const digits = 1 + Math.floor(random() * 9);
      if (toDigits(value, digits) !== Number(value.toPrecision(digits))) odd.push([value, digits]);
    }
    expect(odd).toEqual([]);
  });
  it.each([
    0,
    -0,
    1,
    1000,
    999_999.5,
    0.000_999_999_95,
    1e-300,
    1e300,
    2.5,
    0.125,
    -12.345_65,
    NaN,
    Infinity,
    -Infinity,
  ])('holds for %p', (value) => expect(toDigits(value, 6)).toBe(Number(value.toPrecision(6))));
});

describe('values at some places', () => {
  it('come in the order of the places, as often as asked for', () =>
    expect(Array.from(gather([5, 6, NaN, 8], [3, 0, 2, 3]))).toEqual([8, 5, NaN, 8]));
  it('are none where no place is asked for', () => expect(gather([1, 2], [])).toHaveLength(0));
});
