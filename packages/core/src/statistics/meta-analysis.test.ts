import fc from 'fast-check';
import { seededRandom, standardNormal } from '../numeric/index.js';
import { metaAnalysis, type MetaAnalysis, type Study } from './index.js';

const studiesOf = (estimates: readonly number[], errors: readonly number[]): Study[] =>
  estimates.map((estimate, k) => ({ estimate, standardError: errors[k]! }));
const found = (studies: readonly Study[]): MetaAnalysis => {
  const outcome = metaAnalysis(studies);
  if (!outcome.ok) throw new Error(outcome.reason);
  return outcome.value;
};

/** Published examples, worked out by R's metafor 3.8 (`rma`, REML, `test = "knha"`). */
const CASES = [
  {
    name: 'thirteen studies far apart (Colditz et al. 1994)',
    estimates: [
      -0.889311333920205, -1.58538865720143, -1.34807314829969, -1.44155119002131, -0.217547322211296,
      -0.786115585818864, -1.62089822359839, 0.0119523335238405, -0.469417648738149, -1.37134480347278,
      -0.339358828338391, 0.445913400571379, -0.0173139482168798,
    ],
    errors: [
      0.570600354892951, 0.441113501718258, 0.644490469571091, 0.141456819921302, 0.226296646395016, 0.0831000508778951,
      0.472247019654243, 0.0629410779842364, 0.237558856840255, 0.270231000466321, 0.111410116109623, 0.729729981020482,
      0.267216503390016,
    ],
    says: {
      estimate: -0.714532342158139,
      standardError: 0.180791744092848,
      tau2: 0.313243258136481,
      interval: [-1.10844371368555, -0.320620970630728],
      prediction: [-1.9960168341962, 0.566952149879924],
      q: 152.233008082373,
      iSquared: 0.92221384521269,
      pValue: 0.00192001509605729,
    },
  },
  {
    name: 'twelve that agree (Hackshaw 1998, the first twelve)',
    estimates: [
      0.165514438477573, 0.371563556432483, 0.703097511413113, 0.182321556793955, -0.287682072451781, 0.727548607277278,
      0.756121979721334, -0.22314355131421, -0.23572233352107, 0.698134722070984, 0.207014169384326, 0.182321556793955,
    ],
    errors: [
      0.137028776120449, 0.181780193931539, 0.734980180237841, 0.176826509575534, 0.282233332726684, 0.476781492583848,
      0.298197187624197, 0.438952848398414, 0.58225110350998, 0.313155236965253, 0.213437458234338, 0.481404164545202,
    ],
    says: {
      estimate: 0.241280215595038,
      standardError: 0.0782838571322152,
      tau2: 0,
      interval: [0.0689786077722988, 0.413581823417778],
      prediction: [0.0689786077722988, 0.413581823417778],
      q: 12.8187143806852,
      iSquared: 0,
      pValue: 0.0104317607996858,
    },
  },
  {
    name: 'two',
    estimates: [-0.2, 0.05],
    errors: [0.0447213595499958, 0.0632455532033676],
    says: {
      estimate: -0.079,
      standardError: 0.124935983607606,
      tau2: 0.02825,
      interval: [-1.66646218663361, 1.50846218663361],
      prediction: [-2.74000206501676, 2.58200206501676],
      q: 10.4166666666667,
      iSquared: 0.904,
      pValue: 0.641042855008887,
    },
  },
] as const;

describe('several testers’ results together', () => {
  it.each(CASES)('$name: as R’s metafor has it', ({ estimates, errors, says }) => {
    const { estimate, standardError, between, interval95, prediction95, q, iSquared, pValue } = found(
      studiesOf(estimates, errors),
    );
    const near = (value: number, wanted: number): void => expect(Math.abs(value - wanted)).toBeLessThan(1e-6);
    near(estimate, says.estimate);
    near(standardError, says.standardError);
    near(between ** 2, says.tau2);
    near(interval95.lower, says.interval[0]);
    near(interval95.upper, says.interval[1]);
    near(prediction95.lower, says.prediction[0]);
    near(prediction95.upper, says.prediction[1]);
    near(q.value, says.q);
    near(iSquared, says.iSquared);
    near(pValue, says.pValue);
  });

  it('does not take luck for agreement: the cautious interval is no narrower than the errors allow', () => {
    const { interval95, cautiousInterval95, standardError } = found(
      studiesOf([0.1, 0.12, 0.11, 0.09], [0.1, 0.1414, 0.1225, 0.1095]),
    );
    expect(standardError).toBeLessThan(0.01);
    expect(cautiousInterval95.upper - cautiousInterval95.lower).toBeGreaterThan(
      5 * (interval95.upper - interval95.lower),
    );
  });

  const studies = fc.array(
    fc.record({
      estimate: fc.double({ min: -2, max: 2, noNaN: true }),
      standardError: fc.double({ min: 0.02, max: 1, noNaN: true }),
    }),
    { minLength: 2, maxLength: 12 },
  );
  it('lies among the studies, moves and stretches with them, in whatever order', () => {
    fc.assert(
      fc.property(studies, fc.double({ min: -3, max: 3, noNaN: true }), (given, by) => {
        const { estimate, between, weights, interval95, prediction95 } = found(given);
        expect(estimate).toBeGreaterThanOrEqual(Math.min(...given.map((one) => one.estimate)) - 1e-9);
        expect(estimate).toBeLessThanOrEqual(Math.max(...given.map((one) => one.estimate)) + 1e-9);
        expect(weights.reduce((all, weight) => all + weight, 0)).toBeCloseTo(1, 9);
        expect(prediction95.upper).toBeGreaterThanOrEqual(interval95.upper - 1e-9);
        const moved = found(given.map((one) => ({ ...one, estimate: one.estimate + by })).toReversed());
        expect(moved.estimate).toBeCloseTo(estimate + by, 6);
        expect(moved.between).toBeCloseTo(between, 5);
        const doubled = found(
          given.map((one) => ({ estimate: 2 * one.estimate, standardError: 2 * one.standardError })),
        );
        expect(doubled.between).toBeCloseTo(2 * between, 5);
      }),
    );
  });

  it('holds the mean effect in 93 to 98 of 100, and one more tester’s in 90 or more', () => {
    const random = seededRandom(8);
    const [tries, mean, between] = [2000, 0.2, 0.1];
    let [held, next] = [0, 0];
    for (let k = 0; k < tries; k++) {
      const given = Array.from({ length: 6 }, () => {
        const standardError = 0.04 + 0.06 * random();
        return {
          estimate: mean + between * standardNormal(random) + standardError * standardNormal(random),
          standardError,
        };
      });
      const { cautiousInterval95: whole, cautiousPrediction95: further } = found(given);
      if (whole.lower <= mean && mean <= whole.upper) held++;
      const other = mean + between * standardNormal(random);
      if (further!.lower <= other && other <= further!.upper) next++;
    }
    expect(held / tries).toBeGreaterThan(0.93);
    expect(held / tries).toBeLessThan(0.98);
    // Known to fall short with few studies, whose spread is hardly known (89 % on k − 1).
    expect(next / tries).toBeGreaterThan(0.9);
    expect(next / tries).toBeLessThan(0.98);
  });

  it('is refused for one study, and for a standard error of nothing', () => {
    expect(metaAnalysis([{ estimate: 1, standardError: 1 }])).toEqual({ ok: false, reason: 'too-few' });
    expect(() => metaAnalysis(studiesOf([1, 2], [1, 0]))).toThrow(/standardError/);
    expect(() => metaAnalysis(studiesOf([1, NaN], [1, 1]))).toThrow(/estimate/);
  });
});
