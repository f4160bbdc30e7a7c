import fc from 'fast-check';
import { convertUnit } from '../units/index.js';
import {
  exampleBike,
  exampleCharger,
  exampleFit,
  exampleJoiner,
  exampleKit,
  exampleMidKit,
  examplePack,
  exampleSettings,
  hubSetup,
  midSetup,
  twoPackSetup,
} from '../testing/example-bench.js';
import {
  axleLoads,
  exactSum,
  gearSpeeds,
  isEstimate,
  money,
  noLoadSpeed,
  packEnergy,
  rollUp,
  thumbRange,
  totalMass,
  type AddOnFacts,
  type Place,
} from './index.js';

const grams = fc.integer({ min: 1, max: 30_000 }).map((g) => g / 1000);
const places = fc.constantFrom<Place>(
  'front-wheel',
  'handlebar',
  'frame',
  'rear-wheel',
  'front-rack',
  'rear-rack',
  'trailer',
);
const addOn = (massKg: number | null, place: Place, cents: number | null = null, currency = 'EUR'): AddOnFacts => ({
  ...exampleJoiner,
  name: `add-on ${place}`,
  kind: 'other',
  massKg,
  place,
  price: cents === null ? null : { amount: cents / 100, currency, date: '2026-03-02' },
});

describe('mass', () => {
  it('adds up by hand: 20 + 3.9 + 3.1 + 80 + 10', () => {
    const mass = totalMass(hubSetup());
    expect(mass).toMatchObject({ totalKg: 117, fittedKg: 27, addedKg: 7, missing: [] });
    expect(mass.byPlace[0]).toEqual({ place: 'rider', massKg: 80 });
  });

  it('is exact to the gram whatever the order, and the places sum to the whole', () =>
    fc.assert(
      fc.property(fc.array(fc.tuple(grams, places), { maxLength: 30 }), (list) => {
        const addOns = list.map(([massKg, place]) => addOn(massKg, place));
        const there = totalMass(hubSetup({ addOns }));
        const back = totalMass(hubSetup({ addOns: [...addOns].reverse() }));
        const wanted = (117_000 + list.reduce((sum, [kg]) => sum + Math.round(kg * 1000), 0)) / 1000;
        expect(there.totalKg).toBe(wanted);
        expect(back.totalKg).toBe(wanted);
        expect(exactSum(there.byPlace.map(({ massKg }) => massKg))).toBe(wanted);
        // In pounds it is the same mass: converting the sum and summing the converted agree.
        const pounds = there.items.reduce((sum, { massKg }) => sum + convertUnit(massKg, 'kg', 'lb'), 0);
        expect(convertUnit(there.totalKg, 'kg', 'lb')).toBeCloseTo(pounds, 9);
      }),
    ));

  it('says what is not known instead of taking it for nothing', () =>
    expect(
      totalMass(hubSetup({ kit: { ...exampleKit, massKg: null }, fit: { ...exampleFit, riderMassKg: null } })).missing,
    ).toEqual(['Corvane R2', 'rider']));

  it('takes the masses of the box where they are listed', () => {
    const box = [
      { what: 'motor', massKg: 3.2, place: 'rear-wheel' as const },
      { what: 'display and levers', massKg: 0.4, place: 'handlebar' as const },
    ];
    const mass = totalMass(hubSetup({ kit: { ...exampleKit, massKg: 9, box } }));
    expect(mass.addedKg).toBe(6.7);
    expect(mass.byPlace.find(({ place }) => place === 'handlebar')).toEqual({ place: 'handlebar', massKg: 0.4 });
  });
});

describe('axle loads', () => {
  it('sum to the total, trailer counted', () =>
    fc.assert(
      fc.property(
        fc.array(fc.tuple(grams, places), { maxLength: 20 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (list, share) => {
          const mass = totalMass(hubSetup({ addOns: list.map(([massKg, place]) => addOn(massKg, place)) }));
          const loads = axleLoads(mass.items, share);
          expect(loads.frontKg + loads.rearKg + loads.trailerKg).toBeCloseTo(mass.totalKg, 4);
        },
      ),
    ));
  it('grow at the wheel where mass is added', () => {
    const loads = (place: Place) => axleLoads(totalMass(hubSetup({ addOns: [addOn(5, place)] })).items, 0.45);
    const before = axleLoads(totalMass(hubSetup()).items, 0.45);
    expect(loads('front-wheel').frontKg - before.frontKg).toBeCloseTo(5, 6);
    expect(loads('rear-rack').rearKg - before.rearKg).toBeCloseTo(5, 6);
    expect(loads('trailer').rearKg - before.rearKg).toBeCloseTo(0.5, 6);
  });
  it('name what was taken for want of weighing', () =>
    expect(axleLoads(totalMass(hubSetup()).items, null).assumptions).toContain(
      'bike: 45 % on the front wheel, not weighed',
    ));
});

describe('money', () => {
  it('adds up by hand: 412.50 + 338.00 + 46.00', () =>
    expect(money(hubSetup()).totals).toEqual([{ currency: 'EUR', amount: 796.5 }]));
  it('never adds currencies, and is exact to the cent', () =>
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 1, max: 99_999 }), fc.constantFrom('EUR', 'GBP')), { maxLength: 30 }),
        (list) => {
          const { totals } = money(hubSetup({ addOns: list.map(([cents, c]) => addOn(1, 'frame', cents, c)) }));
          const of = (c: string): number =>
            list.filter(([, own]) => own === c).reduce((sum, [cents]) => sum + cents, 0);
          expect(totals.find(({ currency }) => currency === 'EUR')!.amount).toBe((79_650 + of('EUR')) / 100);
          expect(totals.find(({ currency }) => currency === 'GBP')?.amount ?? 0).toBe(of('GBP') / 100);
        },
      ),
    ));
  it('does not count the bike, which was there before, and says what has no price', () => {
    const priced = money(
      hubSetup({
        bike: { ...exampleBike, price: { amount: 500, currency: 'EUR', date: '2020-01-01' } },
        addOns: [addOn(1, 'frame')],
      }),
    );
    expect(priced.totals).toEqual([{ currency: 'EUR', amount: 796.5 }]);
    expect(priced.missing).toEqual(['add-on frame']);
  });
});

describe('energy, range and charging', () => {
  it('is capacity times voltage, and twice that for two packs', () => {
    expect(packEnergy([examplePack]).nominalWh).toBeCloseTo(510.4, 9);
    expect(packEnergy(twoPackSetup().packs)).toMatchObject({
      nominalWh: expect.closeTo(1020.8, 9),
      capacityAh: 23.2,
    });
  });
  it('takes the measured energy before the label, with its own span', () => {
    const { usable } = packEnergy([{ ...examplePack, measuredEnergyWh: 441, measuredEnergyUncertaintyWh: 6 }]);
    expect(usable).toMatchObject({ value: 441, lower: 429, upper: 453, basis: 'measured from full to cut-off' });
  });
  it('gives a range by rule of thumb with its span: 510.4 · 0.93 ÷ 15 = 31.6 km', () => {
    const range = thumbRange(hubSetup(), { name: 'throttle', whPerKm: 15 });
    expect(range).toMatchObject({ value: expect.closeTo(31.645, 3), lower: expect.closeTo(22.151, 3) });
  });
  it('charges 11.6 Ah at 2.5 A in 4.64 · (0.85 + 0.15 · 2.5) = 5.68 h, for 0.32 · 0.475 ÷ 0.87 = 17 cents', () => {
    const { chargeTime, chargeCost } = rollUp(hubSetup());
    expect(chargeTime).toMatchObject({ value: expect.closeTo(5.684, 4), unit: 'h' });
    expect(chargeCost).toMatchObject({ amount: expect.closeTo(0.17459, 4), currency: 'EUR' });
  });
  it('gives reasons where something is not known', () => {
    const bare = rollUp(
      hubSetup({
        packs: [{ ...examplePack, capacityAh: null }],
        charger: { ...exampleCharger, outputA: null },
        bike: { ...exampleBike, wheelCircumferenceM: null },
      }),
    );
    expect(bare.chargeTime).toEqual({ missing: ['a charger with its current', 'capacity of every pack'] });
    expect(bare.ranges.every(({ range }) => !isEstimate(range))).toBe(true);
    expect(bare.noLoadSpeed).toEqual({ missing: ['wheel circumference'] });
    expect(bare.gears).toEqual([]);
    expect('missing' in rollUp(hubSetup({ packs: [] })).chargeTime).toBe(true);
  });
});

describe('speeds', () => {
  it('without load: 285 rpm · 2.1 m = 35.9 km/h, more on a pack of higher voltage', () => {
    expect(noLoadSpeed(hubSetup())).toMatchObject({ value: expect.closeTo(35.91, 6) });
    const higher = noLoadSpeed(hubSetup({ packs: [{ ...examplePack, nominalVoltageV: 52 }] }));
    expect(higher).toMatchObject({ value: expect.closeTo((35.91 * 52) / 44, 6) });
  });
  it('of a mid motor through its highest gear: 110 · 44 ÷ 14 · 2.1 m', () =>
    expect(noLoadSpeed(midSetup())).toMatchObject({ value: expect.closeTo(43.56, 6) }));
  it('take tyres and a chainring that were added', () => {
    const tyres: AddOnFacts = { ...addOn(1, 'rear-wheel'), kind: 'tyres', wheelCircumferenceM: 2.2 };
    const ring: AddOnFacts = { ...addOn(0.2, 'frame'), kind: 'chainring', teeth: 38 };
    expect(noLoadSpeed(hubSetup({ addOns: [tyres] }))).toMatchObject({ value: expect.closeTo(37.62, 6) });
    expect(gearSpeeds(midSetup({ addOns: [ring], kit: exampleMidKit }), 60).map(({ ring: r }) => r)).toEqual([
      38, 38, 38, 38,
    ]);
  });
  it('of the gears are exact and in order; at the cadence of the limit the speed is the limit', () => {
    const gears = gearSpeeds(hubSetup(), 70);
    expect(gears.map(({ cog }) => cog)).toEqual([28, 22, 18, 14]);
    expect(gears[3]!.speedKmh).toBeCloseTo((44 / 14) * 2.1 * 70 * 0.06, 9);
    for (const { ratio, cadenceAtLimitRpm } of gears)
      expect(cadenceAtLimitRpm! * ratio * 2.1 * 0.06).toBeCloseTo(25, 9);
  });
  it('help ends at the lower of what is set and what the limits say', () => {
    expect(rollUp(hubSetup()).helpEndsKmh).toBe(25);
    expect(rollUp(hubSetup({ settings: { ...exampleSettings, speedLimitKmh: 20 } })).helpEndsKmh).toBe(20);
    expect(
      rollUp(hubSetup({ limits: null, settings: { ...exampleSettings, speedLimitKmh: null } })).helpEndsKmh,
    ).toBeNull();
  });
});
