import fc from 'fast-check';
import {
  exampleBike,
  exampleCharger,
  exampleFit,
  exampleJoiner,
  exampleKit,
  exampleLimits,
  exampleMidKit,
  examplePack,
  exampleSettings,
  hubSetup,
  midSetup,
  twoPackSetup,
} from '../testing/example-bench.js';
import { RULES, type BikeFacts, type FitFacts, type KitFacts, type PackFacts, type ConvertedSetup } from './index.js';
import { rotorWantedMm, RIM_LIMIT_J } from './rules/brakes.js';
import { slotTorqueNm } from './rules/torque-arms.js';

const assess = (id: string, setup: ConvertedSetup) => RULES.find((rule) => rule.id === id)!.assess(setup).state;

const bike = (x: Partial<BikeFacts>) => hubSetup({ bike: { ...exampleBike, ...x } });
const kit = (x: Partial<KitFacts>) => hubSetup({ kit: { ...exampleKit, ...x } });
const mid = (x: Partial<KitFacts>, fit: Partial<FitFacts> = {}, own: Partial<BikeFacts> = {}) =>
  midSetup({ kit: { ...exampleMidKit, ...x }, fit: { ...exampleFit, ...fit }, bike: { ...exampleBike, ...own } });
const pack = (x: Partial<PackFacts>) => hubSetup({ packs: [{ ...examplePack, ...x }] });
const fit = (x: Partial<FitFacts>) => hubSetup({ fit: { ...exampleFit, ...x } });
const [packA, packB] = twoPackSetup().packs as [PackFacts, PackFacts];

/**
 * One knob per limit: the rule passes exactly while the knob is on the good side of the boundary, the boundary itself
 * included (or excluded where the rule says "above"). So it is monotone and its edge is exact.
 */
interface Edge {
  readonly rule: string;
  readonly knob: string;
  readonly at: number;
  readonly good: 'at-most' | 'at-least' | 'above';
  readonly range: readonly [number, number];
  readonly set: (value: number) => ConvertedSetup;
}
const edges: readonly Edge[] = [
  {
    rule: 'charge-time',
    knob: 'claimed time',
    // 11.6 Ah ÷ 2.5 A · (0.85 + 0.15 · 2.5) = 5.684 h, 15 % less at best.
    at: 5.684 * 0.85,
    good: 'at-least',
    range: [1, 20],
    set: (v) => kit({ claims: { rangeKm: null, speedKmh: null, chargeTimeH: v, massKg: null, powerW: null } }),
  },
  {
    rule: 'axle-width',
    knob: 'axle, steel',
    at: 135,
    good: 'at-most',
    range: [131, 150],
    set: (v) => kit({ axleWidthMm: v }),
  },
  {
    rule: 'axle-width',
    knob: 'axle, aluminium',
    at: 133,
    good: 'at-most',
    range: [131, 150],
    set: (v) =>
      hubSetup({ kit: { ...exampleKit, axleWidthMm: v }, bike: { ...exampleBike, rearDropoutMaterial: 'aluminium' } }),
  },
  {
    rule: 'axle-width',
    knob: 'gap',
    at: 131,
    good: 'at-least',
    range: [120, 135],
    set: (v) => kit({ axleWidthMm: v }),
  },
  {
    rule: 'axle-flats',
    knob: 'slot too narrow',
    at: 10,
    good: 'at-least',
    range: [8, 10.5],
    set: (v) => bike({ dropoutSlotMm: v }),
  },
  {
    rule: 'axle-flats',
    knob: 'slot too wide',
    at: 10.5,
    good: 'at-most',
    range: [10, 13],
    set: (v) => bike({ dropoutSlotMm: v }),
  },
  {
    rule: 'chain-to-motor',
    knob: 'spacers',
    at: 2,
    good: 'at-least',
    range: [0, 5],
    set: (v) => fit({ cogSpacerMm: v, cogSpacers: 1 }),
  },
  {
    rule: 'chain-to-frame',
    knob: 'cog stack',
    at: 38 + 1.5 - 2 - 4,
    good: 'at-most',
    range: [10, 60],
    set: (v) => bike({ cogStackMm: v }),
  },
  {
    rule: 'cog-width',
    knob: 'cog stack',
    at: 38 + 1.5 - 6,
    good: 'at-most',
    range: [10, 60],
    set: (v) => bike({ cogStackMm: v }),
  },
  {
    rule: 'disc-bolts',
    knob: 'too long',
    at: 7.5 + 1.8,
    good: 'at-most',
    range: [6.8, 20],
    set: (v) => fit({ discBoltMm: v }),
  },
  {
    rule: 'disc-bolts',
    knob: 'too short',
    at: 6.8,
    good: 'at-least',
    range: [2, 9.3],
    set: (v) => fit({ discBoltMm: v }),
  },
  {
    rule: 'disc-bolts',
    knob: 'depth',
    at: 7.7,
    good: 'at-least',
    range: [3, 20],
    set: (v) => kit({ discBossDepthMm: v }),
  },
  {
    rule: 'shell-width',
    knob: 'spindle too short',
    at: 73,
    good: 'at-least',
    range: [60, 74],
    set: (v) => mid({ shellWidthMm: v }),
  },
  {
    rule: 'shell-width',
    knob: 'spindle not filled',
    at: 74,
    good: 'at-most',
    range: [73, 90],
    set: (v) => mid({ shellWidthMm: v }),
  },
  {
    rule: 'chain-line',
    knob: 'outward, several cogs',
    at: 50,
    good: 'at-most',
    range: [45, 70],
    set: (v) => mid({}, { chainLineMm: v }),
  },
  {
    rule: 'chain-line',
    knob: 'inward, several cogs',
    at: 40,
    good: 'at-least',
    range: [20, 45],
    set: (v) => mid({}, { chainLineMm: v }),
  },
  {
    rule: 'chain-line',
    knob: 'outward, one cog',
    at: 47,
    good: 'at-most',
    range: [45, 70],
    set: (v) => mid({}, { chainLineMm: v }, { cogMount: 'single' }),
  },
  {
    rule: 'torque-arms',
    knob: 'torque, steel',
    at: (slotTorqueNm(235, 6, 12, 10) + 38) / 1.5,
    good: 'at-most',
    range: [5, 120],
    set: (v) => kit({ maxTorqueNm: v }),
  },
  {
    rule: 'torque-arms',
    knob: 'torque, aluminium with strong arms',
    at: 40,
    good: 'at-most',
    range: [5, 120],
    set: (v) =>
      hubSetup({
        kit: { ...exampleKit, maxTorqueNm: v, torqueArmNm: 500 },
        bike: { ...exampleBike, rearDropoutMaterial: 'aluminium' },
      }),
  },
  { rule: 'crank-sensor', knob: 'gap', at: 8, good: 'at-least', range: [0, 30], set: (v) => bike({ crankGapMm: v }) },
  {
    rule: 'handlebar-room',
    knob: 'free',
    at: 120,
    good: 'at-least',
    range: [0, 400],
    set: (v) => bike({ handlebarFreeMm: v }),
  },
  // Rear: 20·0.55 + 3.9 + 3.1·0.5 + 80·0.6 + 10 = 74.45 kg; front: 9 + 1.55 + 32 = 42.55 kg.
  {
    rule: 'tyre-load',
    knob: 'rear tyre',
    at: 74.45,
    good: 'at-least',
    range: [10, 200],
    set: (v) => bike({ rearTyreLimitKg: v }),
  },
  {
    rule: 'tyre-load',
    knob: 'front tyre',
    at: 42.55,
    good: 'at-least',
    range: [10, 200],
    set: (v) => bike({ frontTyreLimitKg: v }),
  },
  {
    rule: 'tyre-load',
    knob: 'payload',
    at: 45.55,
    good: 'at-most',
    range: [0, 200],
    set: (v) => fit({ payloadKg: Math.round(v * 1000) / 1000 }),
  },
  {
    rule: 'total-load',
    knob: 'limit',
    at: 117,
    good: 'at-least',
    range: [50, 250],
    set: (v) => bike({ totalLimitKg: v }),
  },
  {
    rule: 'trailer-load',
    knob: 'pack on the trailer',
    at: 40,
    good: 'at-most',
    range: [1, 180],
    set: (v) =>
      hubSetup({
        packs: [{ ...examplePack, mountKind: 'trailer', massKg: v }],
        addOns: [{ ...exampleJoiner, kind: 'trailer', place: 'trailer', limitKg: 40 }],
      }),
  },
  { rule: 'rack-load', knob: 'limit', at: 10, good: 'at-least', range: [1, 50], set: (v) => bike({ rackLimitKg: v }) },
  {
    rule: 'brake-size',
    knob: 'rotor',
    at: rotorWantedMm((117 * (25 / 3.6) ** 2) / 2),
    good: 'at-least',
    range: [100, 260],
    set: (v) => bike({ frontRotorMm: v }),
  },
  {
    rule: 'rear-brake-size',
    knob: 'rear rotor',
    at: rotorWantedMm((0.5 * (117 * (25 / 3.6) ** 2)) / 2),
    good: 'at-least',
    range: [100, 260],
    set: (v) => bike({ rearRotorMm: v }),
  },
  {
    rule: 'brake-size',
    knob: 'speed, rim brake',
    at: Math.sqrt((2 * RIM_LIMIT_J) / 117) * 3.6,
    good: 'at-most',
    range: [10, 32],
    set: (v) =>
      hubSetup({
        bike: { ...exampleBike, frontBrake: 'rim' },
        kit: { ...exampleKit, noLoadRpm: 400 },
        settings: { ...exampleSettings, speedLimitKmh: v },
      }),
  },
  {
    rule: 'nominal-voltage',
    knob: 'same, upward',
    at: 44 * 1.04,
    good: 'at-most',
    range: [44, 45.9],
    set: (v) =>
      hubSetup({ packs: [{ ...examplePack, nominalVoltageV: v }], kit: { ...exampleKit, controllerMaxV: 48 } }),
  },
  {
    rule: 'nominal-voltage',
    knob: 'too low',
    at: 44 * 0.96,
    good: 'at-least',
    range: [24, 45],
    set: (v) => pack({ nominalVoltageV: v }),
  },
  {
    rule: 'nominal-voltage',
    knob: 'step up',
    at: 44 * 1.1,
    good: 'at-most',
    range: [44, 60],
    set: (v) => pack({ nominalVoltageV: v }),
  },
  {
    rule: 'nominal-voltage',
    knob: 'controller at a step up',
    at: 50.4,
    good: 'at-least',
    range: [44, 70],
    set: (v) =>
      hubSetup({ packs: [{ ...examplePack, nominalVoltageV: 47.5 }], kit: { ...exampleKit, controllerMaxV: v } }),
  },
  {
    rule: 'nominal-voltage',
    knob: 'display at a step up',
    at: 50.4,
    good: 'at-least',
    range: [44, 70],
    set: (v) =>
      hubSetup({ packs: [{ ...examplePack, nominalVoltageV: 47.5 }], kit: { ...exampleKit, displayMaxV: v } }),
  },
  {
    rule: 'protection-current',
    knob: 'protection',
    at: 1.2 * 14,
    good: 'at-least',
    range: [1, 60],
    set: (v) => pack({ protectionContinuousA: v }),
  },
  {
    rule: 'protection-current',
    knob: 'set limit',
    at: 22 / 1.2,
    good: 'at-most',
    range: [1, 60],
    set: (v) => hubSetup({ settings: { ...exampleSettings, currentLimitA: v } }),
  },
  {
    rule: 'protection-peak',
    knob: 'peak',
    at: 45,
    good: 'at-most',
    range: [1, 80],
    set: (v) => kit({ peakCurrentA: v }),
  },
  {
    rule: 'connectors',
    knob: 'kit side',
    at: 14,
    good: 'at-least',
    range: [1, 60],
    set: (v) => kit({ connectorA: v }),
  },
  {
    rule: 'connectors',
    knob: 'pack side',
    at: 14,
    good: 'at-least',
    range: [1, 60],
    set: (v) => pack({ connectorA: v }),
  },
  {
    rule: 'wire-drop',
    knob: 'length',
    at: (0.03 * 44 * 2.5 * 58) / (2 * 14),
    good: 'at-most',
    range: [0.1, 20],
    set: (v) => kit({ wireLengthM: v }),
  },
  { rule: 'wire-heat', knob: 'area', at: 14 / 7, good: 'at-least', range: [0.5, 10], set: (v) => kit({ wireMm2: v }) },
  { rule: 'fuse', knob: 'too small', at: 14, good: 'at-least', range: [1, 25], set: (v) => pack({ fuseA: v }) },
  { rule: 'fuse', knob: 'too big', at: 25, good: 'at-most', range: [14, 80], set: (v) => pack({ fuseA: v }) },
  { rule: 'cut-off', knob: 'controller', at: 33.6, good: 'above', range: [20, 43], set: (v) => kit({ cutoffV: v }) },
  {
    rule: 'charger-voltage',
    knob: 'too high',
    at: 50.7,
    good: 'at-most',
    range: [50.2, 60],
    set: (v) => hubSetup({ charger: { ...exampleCharger, outputV: v } }),
  },
  {
    rule: 'charger-voltage',
    knob: 'too low',
    at: 50.1,
    good: 'at-least',
    range: [30, 50.6],
    set: (v) => hubSetup({ charger: { ...exampleCharger, outputV: v } }),
  },
  {
    rule: 'charger-current',
    knob: 'current',
    at: 4.5,
    good: 'at-most',
    range: [0.5, 20],
    set: (v) => hubSetup({ charger: { ...exampleCharger, outputA: v } }),
  },
  {
    rule: 'packs-full',
    knob: 'rest voltage',
    at: 49.8,
    good: 'at-least',
    range: [30, 50.4],
    set: (v) => twoPackSetup({ fit: { ...exampleFit, restVoltagesV: [v, 50.4] } }),
  },
  {
    rule: 'packs-difference',
    knob: 'volts apart',
    at: 0.5,
    good: 'at-most',
    range: [0, 5],
    set: (v) => twoPackSetup({ fit: { ...exampleFit, restVoltagesV: [50.4, 50.4 - v] } }),
  },
  {
    rule: 'packs-difference',
    knob: 'charge current',
    at: 0.4 / 0.26,
    good: 'at-least',
    range: [0.2, 10],
    set: (v) =>
      twoPackSetup({ packs: [packA, { ...packB, maxChargeA: v }], fit: { ...exampleFit, restVoltagesV: [50.4, 50] } }),
  },
  {
    rule: 'joiner-rating',
    knob: 'rating',
    at: 14,
    good: 'above',
    range: [5, 40],
    set: (v) => twoPackSetup({ addOns: [{ ...exampleJoiner, ratedA: v }] }),
  },
  {
    rule: 'pack-shares',
    knob: 'protection',
    at: 7,
    good: 'at-least',
    range: [1, 40],
    set: (v) => twoPackSetup({ packs: [packA, { ...packB, protectionContinuousA: v }] }),
  },
  // The second pack takes R₁ ÷ (R₁ + R₂) of 14 A; its BMS carries 10 A, so R₂ may not fall below 0.4 · R₁.
  {
    rule: 'pack-shares',
    knob: 'resistance of the other',
    at: 0.052,
    good: 'at-least',
    range: [0.01, 0.29],
    set: (v) => twoPackSetup({ packs: [packA, { ...packB, protectionContinuousA: 10, resistanceOhm: v }] }),
  },
  {
    rule: 'law-power',
    knob: 'rated power',
    at: 250,
    good: 'at-most',
    range: [50, 2000],
    set: (v) => kit({ ratedPowerW: v }),
  },
  {
    rule: 'law-speed',
    knob: 'set limit',
    at: 25,
    good: 'at-most',
    range: [5, 60],
    set: (v) => hubSetup({ settings: { ...exampleSettings, speedLimitKmh: v } }),
  },
];

describe('each limit of a check', () => {
  it.each(edges.map((edge) => [`${edge.rule}: ${edge.knob}`, edge] as const))(
    '%s is monotone and exact at its edge',
    (_name, { rule, at, good, range, set }) => {
      const isGood = (value: number): boolean =>
        good === 'at-most' ? value <= at : good === 'at-least' ? value >= at : value > at;
      const step = 1e-3;
      for (const value of [at, at - step, at + step])
        if (value >= range[0] && value <= range[1])
          expect([value, assess(rule, set(value))]).toEqual([value, isGood(value) ? 'passed' : 'failed']);
      fc.assert(
        fc.property(fc.double({ min: range[0], max: range[1], noNaN: true }), (value) => {
          // Closer than rounding of a gram or of the last digit says nothing.
          fc.pre(Math.abs(value - at) > step);
          expect(assess(rule, set(value))).toBe(isGood(value) ? 'passed' : 'failed');
        }),
        { numRuns: 60 },
      );
    },
  );

  it('covers every rule that compares numbers', () => {
    const withoutNumbers = [
      'trailer-hitch',
      'brake-switch',
      'rim-size',
      'axle-kind',
      'cog-mount',
      'disc-mount',
      'shell-kind',
      'battery-room',
      'battery-mount',
      'folding-hinge',
      'charger-chemistry',
      'packs-series',
      'packs-chemistry',
      'law-throttle',
      'law-duties',
    ];
    const covered = new Set([...edges.map(({ rule }) => rule), ...withoutNumbers]);
    expect(RULES.map(({ id }) => id).filter((id) => !covered.has(id))).toEqual([]);
  });
});

describe('the rules that compare words', () => {
  it.each([
    ['rim-size', kit({ rimDiameterMm: 622 })],
    ['axle-kind', bike({ rearAxle: 'thru' })],
    ['cog-mount', bike({ cogMount: 'cassette' })],
    ['cog-mount', bike({ cogMount: 'hub-gear' })],
    ['disc-mount', kit({ discMount: false })],
    ['shell-kind', mid({}, {}, { shellKind: 'pressed' })],
    ['battery-mount', bike({ mountPoints: 'none' })],
    ['charger-chemistry', hubSetup({ charger: { ...exampleCharger, chemistry: 'li-ion-lfp' } })],
    ['packs-series', twoPackSetup({ packs: [packA, { ...packB, seriesCells: 13 }] })],
    ['packs-chemistry', twoPackSetup({ packs: [packA, { ...packB, chemistry: 'li-ion-lfp' }] })],
    ['joiner-rating', twoPackSetup({ addOns: [] })],
    ['law-throttle', kit({ throttle: 'thumb' })],
    ['battery-room', pack({ lengthMm: 700 })],
    ['brake-size', bike({ frontBrake: 'none' })],
    ['brake-size', bike({ frontBrake: 'drum' })],
    ['torque-arms', kit({ torqueArms: 0, maxTorqueNm: 5 })],
    ['shell-width', mid({}, { shellSpacers: 3 })],
  ])('%s fails on the wrong kind', (rule, setup) => expect(assess(rule, setup)).toBe('failed'));

  it.each([
    [
      'a throttle where the profile lets it',
      'law-throttle',
      hubSetup({ kit: { ...exampleKit, throttle: 'twist' }, limits: { ...exampleLimits, throttle: 'free' } }),
    ],
    ['a single cog on a freewheel thread', 'cog-mount', bike({ cogMount: 'single' })],
    [
      'a strapped pack on a bare frame',
      'battery-mount',
      hubSetup({ bike: { ...exampleBike, mountPoints: 'none' }, packs: [{ ...examplePack, mountKind: 'straps' }] }),
    ],
  ])('%s passes', (_what, rule, setup) => expect(assess(rule, setup)).toBe('passed'));
});

describe('unknown facts', () => {
  const owners = {
    bike: exampleBike,
    kit: exampleKit,
    packs: examplePack,
    fit: exampleFit,
    charger: exampleCharger,
  } as const;
  const fields = (Object.entries(owners) as [keyof typeof owners, object][]).flatMap(([owner, facts]) =>
    Object.keys(facts)
      .filter(
        (field) =>
          ![
            'name',
            'display',
            'motorKind',
            'chemistry',
            'payloadPlace',
            'currency',
            'box',
            'shellKinds',
            'cogTeeth',
            'chainringTeeth',
            'restVoltagesV',
          ].includes(field),
      )
      .map((field) => [owner, field] as const),
  );
  it('never turn a failed check into a passed one', () =>
    fc.assert(
      fc.property(
        fc.subarray([...fields], { minLength: 1 }),
        fc.constantFrom(hubSetup(), midSetup(), twoPackSetup()),
        (blanked, base) => {
          const without = (facts: object, owner: string): object => ({
            ...facts,
            ...Object.fromEntries(blanked.filter(([who]) => who === owner).map(([, field]) => [field, null])),
          });
          const setup = {
            ...base,
            bike: without(base.bike, 'bike'),
            kit: without(base.kit, 'kit'),
            packs: base.packs.map((one) => without(one, 'packs')),
            fit: without(base.fit, 'fit'),
            charger: without(base.charger!, 'charger'),
          } as ConvertedSetup;
          for (const rule of RULES) {
            if (!rule.applies(setup) || !rule.applies(base)) continue;
            const assessment = rule.assess(setup);
            if (assessment.state === 'needs') expect(assessment.needs.length).toBeGreaterThan(0);
            else if (assessment.state === 'passed') expect(rule.assess(base).state).toBe('passed');
          }
        },
      ),
      { numRuns: 150 },
    ));

  it('with nothing known at all no rule passes but those that need nothing', () => {
    const nothing = (facts: object): object =>
      Object.fromEntries(
        Object.entries(facts).map(([name, value]) => [
          name,
          Array.isArray(value) ? [] : name === 'name' ? value : null,
        ]),
      );
    const setup = {
      bike: nothing({ ...exampleBike, frontAxle: null }),
      kit: { ...nothing(exampleKit), motorKind: 'rear-hub-geared', sensor: null },
      packs: [{ ...nothing(examplePack), chemistry: 'li-ion-nmc' }],
      charger: null,
      addOns: [],
      limits: null,
      settings: { ...nothing(exampleSettings), levels: [] },
      fit: { ...nothing(exampleFit), payloadPlace: 'rear-rack' },
    } as unknown as ConvertedSetup;
    const states = RULES.filter((rule) => rule.applies(setup)).map((rule) => [rule.id, rule.assess(setup).state]);
    expect(states.filter(([, state]) => state !== 'needs')).toEqual([]);
  });
});
