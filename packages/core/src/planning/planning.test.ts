import fc from 'fast-check';
import reference from '../statistics/reference/statistics.json' with { type: 'json' };
import {
  balancedOrder,
  detectableDifference,
  assessOrder,
  changeWork,
  outlinePlan,
  powerCurve,
  powerOfPlan,
  repeatabilityOf,
  runsForPlan,
  scheduleOuting,
  type OutingRules,
  type PlanDesign,
  type PlannedSetup,
  type PlannedSlot,
  type RepeatedRun,
  type SlotEstimate,
} from './index.js';

/** The reference states the spread of differences for a paired design; between runs it is √2 smaller. */
const designOf = ({ sd, type }: { sd: number; type: string }): PlanDesign => ({
  setups: 2,
  isBlocked: type === 'paired',
  standardDeviation: type === 'paired' ? sd / Math.SQRT2 : sd,
});

describe('runs for a plan', () => {
  it.each(reference.sampleSize)('agrees with independent software: %j', ({ delta, power, n, ...rest }) => {
    expect(Math.abs(runsForPlan(designOf(rest), delta, power)! - n)).toBeLessThan(1e-4);
  });
  it.each(reference.power)('gives its power: %j', ({ n, delta, power, ...rest }) => {
    expect(powerOfPlan(designOf(rest), delta, n)).toBeCloseTo(power, 6);
  });

  const anyDesign = fc.record({
    setups: fc.integer({ min: 2, max: 6 }),
    isBlocked: fc.boolean(),
    standardDeviation: fc.double({ min: 0.01, max: 0.2, noNaN: true }),
  });
  it('has more power with more runs, a larger difference, less scatter', () =>
    fc.assert(
      fc.property(
        anyDesign,
        fc.integer({ min: 2, max: 20 }),
        fc.double({ min: 0.01, max: 0.2, noNaN: true }),
        (design, n, d) => {
          const power = powerOfPlan(design, d, n);
          // Near no difference at all the share of the level that falls to one pair is what moves.
          fc.pre(power > 0.1);
          expect(powerOfPlan(design, d, n + 1)).toBeGreaterThanOrEqual(power - 1e-9);
          expect(powerOfPlan(design, d * 1.3, n)).toBeGreaterThanOrEqual(power - 1e-9);
          expect(
            powerOfPlan({ ...design, standardDeviation: design.standardDeviation * 1.3 }, d, n),
          ).toBeLessThanOrEqual(power + 1e-9);
        },
      ),
      { numRuns: 60 },
    ));
  it('tends to the level of the test as the difference vanishes', () => {
    const design = { setups: 2, isBlocked: false, standardDeviation: 1 };
    expect(powerOfPlan(design, 1e-9, 8)).toBeCloseTo(0.05, 6);
    // Of three pairs each has a little more than a third of the level: they are judged together.
    const share = powerOfPlan({ ...design, setups: 3 }, 1e-9, 8);
    expect(share).toBeGreaterThan(0.05 / 3);
    expect(share).toBeLessThan(0.025);
  });
  it('the detectable difference has the wanted power, and falls with n', () => {
    const design = { setups: 3, isBlocked: true, standardDeviation: 0.04 };
    const curve = powerCurve(design, 0.05, 9);
    expect(curve.map(({ runs }) => runs)).toEqual([2, 3, 4, 5, 6, 7, 8, 9]);
    curve.forEach(({ runs, detectable }, k) => {
      expect(powerOfPlan(design, detectable, runs)).toBeCloseTo(0.8, 6);
      if (k > 0) expect(detectable).toBeLessThan(curve[k - 1]!.detectable);
    });
    expect(detectableDifference(design, 9)).toBeCloseTo(curve.at(-1)!.detectable, 9);
  });
  it('says that no sensible number of runs will do', () =>
    expect(runsForPlan({ setups: 2, isBlocked: false, standardDeviation: 1 }, 0.001)).toBeUndefined());
  it('refuses one setup and one run', () => {
    expect(() => powerOfPlan({ setups: 1, isBlocked: false, standardDeviation: 1 }, 1, 3)).toThrow('setups');
    expect(() => powerOfPlan({ setups: 2, isBlocked: false, standardDeviation: 1 }, 1, 1)).toThrow('runs');
  });
});

/** Runs of one setup on one outing. */
const alike = (values: readonly number[], setup = 'A', outing = 'o'): RepeatedRun[] =>
  values.map((value) => ({ setup, outing, value }));

describe('repeatability', () => {
  it('takes the outings out where several setups were ridden on them, one run each', () => {
    // A and B on four days that differ by tens of per cent; within a day B is 1.1 times A, to a few per cent.
    const days = [10, 13, 9, 16];
    const own = repeatabilityOf('netConsumption', [
      days.flatMap((day, k) => [
        ...alike([day * [1.01, 0.99, 1.02, 0.98][k]!], 'A', `day ${k}`),
        ...alike([1.1 * day], 'B', `day ${k}`),
      ]),
    ]);
    expect(own).toMatchObject({ source: 'own-runs', degreesOfFreedom: 3, runs: 8, setups: 2 });
    // ln 1.01, 0.99, 1.02, 0.98 have a standard deviation of 0.0183; half of a difference's variance is a run's.
    expect(own.relativeSd).toBeCloseTo(0.0183 / Math.SQRT2, 3);
  });

  it('pools the scatter within setups, not the difference between them', () => {
    const own = repeatabilityOf('netConsumption', [alike([10, 10.4, 9.6]), alike([20, 20.8, 19.2], 'B', 'p')]);
    expect(own).toMatchObject({ source: 'own-runs', degreesOfFreedom: 4, runs: 6, setups: 2 });
    // sd of ln 9.6, ln 10, ln 10.4 by hand: 0.0400.
    expect(own.relativeSd).toBeCloseTo(0.04, 3);
  });
  it('states what is usual while there are too few runs', () =>
    expect(repeatabilityOf('netConsumption', [alike([10, 11]), alike([20])])).toMatchObject({
      source: 'usual',
      relativeSd: 0.04,
      runs: 0,
    }));
  it('finds the scatter the runs were made with', () => {
    // 400 setups of 3 runs: the pooled sd is known to 2.5 %.
    let state = 7;
    const uniform = (): number => (state = (state * 16_807) % 2_147_483_647) / 2_147_483_647;
    const groups = Array.from({ length: 400 }, (_, k) =>
      Array.from(
        { length: 3 },
        () => (10 + k) * Math.exp(0.05 * Math.sqrt(-2 * Math.log(uniform())) * Math.cos(2 * Math.PI * uniform())),
      ),
    );
    expect(
      repeatabilityOf(
        'x',
        groups.map((values) => alike(values)),
      ).relativeSd,
    ).toBeCloseTo(0.05, 2);
  });
});

describe('a balanced order', () => {
  const request = fc.record({
    setups: fc.integer({ min: 1, max: 6 }),
    rounds: fc.integer({ min: 1, max: 14 }),
    outings: fc.integer({ min: 1, max: 6 }),
    seed: fc.integer({ min: 0, max: 1e6 }),
  });
  it('rides every setup once in every round, and all rounds', () =>
    fc.assert(
      fc.property(request, (one) => {
        const order = balancedOrder(one);
        expect(order.flat()).toHaveLength(one.rounds);
        const every = Array.from({ length: one.setups }, (_, k) => k);
        for (const round of order.flat()) expect([...round].sort()).toEqual(every);
        const sizes = order.map((rounds) => rounds.length);
        expect(Math.max(...sizes) - Math.min(...sizes)).toBeLessThanOrEqual(1);
      }),
    ));
  it('gives every setup every place equally often once the square is full', () =>
    fc.assert(
      fc.property(fc.integer({ min: 2, max: 6 }), fc.integer({ min: 0, max: 1e6 }), (setups, seed) => {
        const rows = setups % 2 === 0 ? setups : 2 * setups;
        const rounds = balancedOrder({ setups, rounds: rows, outings: 1, seed })[0]!;
        for (let place = 0; place < setups; place++)
          for (let setup = 0; setup < setups; setup++)
            expect(rounds.filter((round) => round[place] === setup)).toHaveLength(rows / setups);
      }),
    ));
  it('lets no setup always follow the same other one: within rounds each follows each equally often', () =>
    fc.assert(
      fc.property(fc.integer({ min: 2, max: 6 }), fc.integer({ min: 0, max: 1e6 }), (setups, seed) => {
        const rows = setups % 2 === 0 ? setups : 2 * setups;
        const follows = new Map<string, number>();
        for (const round of balancedOrder({ setups, rounds: rows, outings: 1, seed })[0]!)
          round
            .slice(1)
            .forEach((to, k) => follows.set(`${round[k]}>${to}`, (follows.get(`${round[k]}>${to}`) ?? 0) + 1));
        expect(follows.size).toBe(setups * (setups - 1));
        expect(new Set(follows.values()).size).toBe(1);
      }),
    ));
  it('two setups in two rounds make ABBA, balanced within the outing', () =>
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 1e6 }), fc.integer({ min: 1, max: 5 }), (seed, outings) => {
        const order = balancedOrder({ setups: 2, rounds: 2 * outings, outings, seed });
        for (const outing of order) {
          const [a, b, c, d] = outing.flat();
          expect([a, b]).toEqual([d, c]);
        }
        expect(
          assessOrder(
            order.map((outing) => outing.flat()),
            2,
          ),
        ).toMatchObject({ verdict: 'balanced', placeSpread: 0 });
      }),
    ));
  it('is the same for the same seed', () =>
    fc.assert(fc.property(request, (one) => expect(balancedOrder(one)).toEqual(balancedOrder(one)))));
  it('takes the least changing among equally balanced orders', () => {
    const changeCost = (from: number, to: number): number => (from + to === 1 ? 0 : 10);
    const cost = (order: ReturnType<typeof balancedOrder>): number =>
      order.reduce(
        (sum, o) =>
          sum +
          o
            .flat()
            .slice(1)
            .reduce((s, to, k) => s + (to === o.flat()[k]! ? 0 : changeCost(o.flat()[k]!, to)), 0),
        0,
      );
    for (const seed of [1, 2, 3])
      expect(cost(balancedOrder({ setups: 3, rounds: 6, outings: 3, seed, changeCost }))).toBeLessThanOrEqual(
        cost(balancedOrder({ setups: 3, rounds: 6, outings: 3, seed })),
      );
  });
});

describe('the judgement of an order', () => {
  it.each([
    { order: [[0, 1, 1, 0]], verdict: 'balanced', codes: [] },
    { order: [[0, 0, 1, 1]], verdict: 'unbalanced', codes: ['place-drift'] },
    {
      order: [
        [0, 1],
        [0, 1],
      ],
      verdict: 'unbalanced',
      codes: ['place-drift', 'always-first'],
    },
    {
      order: [
        [0, 1],
        [1, 0],
      ],
      verdict: 'balanced',
      codes: [],
    },
    { order: [[0, 1, 0]], verdict: 'unbalanced', codes: ['counts-differ'] },
    {
      order: [
        [0, 0],
        [1, 1],
      ],
      verdict: 'unbalanced',
      codes: ['outing-lacks', 'outing-lacks'],
    },
  ])('$order is $verdict', ({ order, verdict, codes }) => {
    const assessment = assessOrder(order, 2);
    expect(assessment.verdict).toBe(verdict);
    expect(assessment.reasons.map(({ code }) => code)).toEqual(codes);
  });
  it('does not depend on how the setups are named', () =>
    fc.assert(
      fc.property(
        fc.array(fc.array(fc.integer({ min: 0, max: 1 }), { minLength: 2, maxLength: 6 }), {
          minLength: 1,
          maxLength: 4,
        }),
        (order) => {
          const turned = order.map((outing) => outing.map((setup) => 1 - setup));
          expect(assessOrder(turned, 2).verdict).toBe(assessOrder(order, 2).verdict);
          expect(assessOrder(turned, 2).placeSpread).toBeCloseTo(assessOrder(order, 2).placeSpread, 12);
        },
      ),
    ));
});

describe('the schedule of an outing', () => {
  const rules: OutingRules = {
    startMin: 540,
    hoursAvailable: 6,
    darkFromMin: 1080,
    changeSetupMin: 15,
    betweenRunsMin: 5,
    restAfterChargeMin: 30,
    reserveShare: 0.2,
  };
  const slot = (slotId: string, setup: number, change: Partial<SlotEstimate> = {}): SlotEstimate => ({
    slotId,
    setup,
    packKey: `pack ${setup}`,
    bikeKey: 'bike',
    durationS: 1800,
    energyWh: 100,
    energyUncertaintyWh: 0,
    distanceM: 10_000,
    needsFullPack: false,
    coolDownS: 0,
    ...change,
  });
  const packs = (chargeW: number | null) =>
    new Map([
      ['pack 0', { usableWh: 400, chargeW }],
      ['pack 1', { usableWh: 400, chargeW }],
    ]);
  it('adds up rides, changes and time between', () => {
    const done = scheduleOuting([slot('a', 0), slot('b', 1), slot('c', 1), slot('d', 0)], packs(null), rules);
    // 4 × 30 min of riding, 3 × 5 min between, 2 × 15 min of changing.
    expect(done).toMatchObject({
      minutes: 165,
      endMin: 705,
      ridingMin: 120,
      distanceM: 40_000,
      energyWh: 400,
      charges: 2,
      problems: [],
    });
  });
  it('never goes below the reserve without saying so', () => {
    const four = ['a', 'b', 'c', 'd'].map((id) => slot(id, 0));
    expect(scheduleOuting(four, packs(null), rules).problems).toEqual([
      { code: 'below-reserve', slotId: 'd', leftShare: 0 },
    ]);
    const five = scheduleOuting([...four, slot('e', 0)], packs(null), rules);
    expect(five.problems.map(({ code }) => code)).toEqual(['below-reserve', 'empties-pack']);
    const charged = scheduleOuting(four, packs(200), rules);
    expect(charged.problems).toEqual([]);
    // 300 Wh at 200 W are 90 minutes, and then half an hour of rest.
    expect(
      charged.steps.filter(({ kind }) => kind === 'charge' || kind === 'rest').map(({ minutes }) => minutes),
    ).toEqual([90, 30]);
  });
  it('with a charger, whatever the rides take, the reserve is kept or named', () =>
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 5, max: 600, noNaN: true }), { minLength: 1, maxLength: 8 }),
        (energies) => {
          const { steps, problems } = scheduleOuting(
            energies.map((energyWh, k) => slot(String(k), 0, { energyWh })),
            packs(300),
            rules,
          );
          for (const step of steps)
            if (step.kind === 'ride' && step.packLeftShare < 0.2 - 1e-9)
              expect(problems.some((p) => 'slotId' in p && p.slotId === step.slotId)).toBe(true);
        },
      ),
    ));
  it('budgets with the uncertainty of the energy', () =>
    expect(
      scheduleOuting([slot('a', 0, { energyWh: 300, energyUncertaintyWh: 40 })], packs(null), rules).problems,
    ).toMatchObject([{ code: 'below-reserve' }]));
  it('waits until a motor is cool, names what takes too long, ends after dark or cannot be full', () => {
    const hot = scheduleOuting([slot('a', 0, { coolDownS: 3600 }), slot('b', 0)], packs(null), rules);
    expect(hot.steps.find(({ kind }) => kind === 'cool')).toMatchObject({ minutes: 55 });
    const late = scheduleOuting([slot('a', 0), slot('b', 0, { needsFullPack: true })], packs(null), {
      ...rules,
      startMin: 1050,
      hoursAvailable: 1,
    });
    expect(late.problems.map(({ code }) => code)).toEqual(['not-full', 'after-dark', 'too-long']);
  });
});

describe('the outline of a plan', () => {
  const setup = (change: Partial<PlannedSetup> = {}): PlannedSetup => ({
    bikeKey: 'bike',
    packKey: 'pack',
    usableWh: 500,
    chargeW: 100,
    chargeEfficiency: 0.8,
    electricityPerKWh: 0.4,
    currency: 'EUR',
    rides: [{ durationS: 600, energyWh: 50, energyUncertaintyWh: 0, distanceM: 4000, coolDownS: 0 }],
    ...change,
  });
  const rules: OutingRules = {
    startMin: 540,
    hoursAvailable: 8,
    darkFromMin: 1080,
    changeSetupMin: 10,
    betweenRunsMin: 0,
    restAfterChargeMin: 0,
    reserveShare: 0.2,
  };
  const slots = (order: readonly number[]): PlannedSlot[] =>
    order.map((one, k) => ({ slotId: String(k), outing: k < 4 ? 1 : 2, setup: one, test: 0 }));
  it('adds up time, way, charges and money', () => {
    const outline = outlinePlan({
      setups: [setup(), setup({ packKey: 'other' })],
      tests: [{ needsFullPack: false }],
      slots: slots([0, 1, 1, 0, 1, 0, 0, 1]),
      rules,
      canCharge: false,
    });
    // 8 × 10 min of riding and 2 × 2 changes of 10 min.
    expect(outline.totals).toMatchObject({ hours: 2, distanceM: 32_000, charges: 4, energyWh: 400 });
    // 400 Wh ÷ 0.8 × 0.40 per kWh.
    expect(outline.totals.money!.amount).toBeCloseTo(0.2, 9);
    expect(outline.balance[0]).toMatchObject({ verdict: 'balanced', changes: 4 });
  });
  it('gives no money while a price is not known, and none of two currencies', () => {
    const money = (other: Partial<PlannedSetup>) =>
      outlinePlan({
        setups: [setup(), setup(other)],
        tests: [{ needsFullPack: false }],
        slots: slots([0, 1]),
        rules,
        canCharge: false,
      }).totals.money;
    expect(money({ electricityPerKWh: null })).toBeNull();
    expect(money({ currency: 'NOK' })).toBeNull();
  });
  it('takes another bike from the stand rather than refit one', () => {
    const work = changeWork([setup(), setup({ bikeKey: 'second' }), setup({ packKey: 'other' })]);
    expect(work(0, 1)).toBeLessThan(work(0, 2));
  });
});
