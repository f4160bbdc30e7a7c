import {
  exampleBike,
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
import { checkSetup, countChecks, mostWanted, plainText, rollUp, RULES, type Mark, type SetupFacts } from './index.js';

const states = (setup: SetupFacts, marks: Mark[] = []) =>
  Object.fromEntries(checkSetup(setup, marks).map(({ id, state }) => [id, state]));
const waiver = (id: string, kind: Mark['kind'] = 'waived'): Mark => ({
  id,
  kind,
  by: 'Ottoline Vask',
  reason: 'Seen and measured by hand.',
  at: '2026-04-01T08:00:00.000Z',
});

describe('the checks of a setup', () => {
  it.each([
    ['rear hub', hubSetup()],
    ['mid motor', midSetup()],
    ['two packs', twoPackSetup()],
  ])('all pass on an example made to fit: %s', (_what, setup) =>
    expect(checkSetup(setup).filter(({ state }) => state !== 'passed')).toEqual([]),
  );

  it('stand in order of consequence: what can hurt first, what is settled last', () => {
    const setup = hubSetup({
      bike: { ...exampleBike, handlebarFreeMm: 50, crankGapMm: null },
      kit: { ...exampleKit, torqueArms: 0, maxTorqueNm: 60, connectorA: null, axleWidthMm: null, cutoffV: 27 },
      packs: [{ ...examplePack, fuseA: null }],
    });
    const order = checkSetup(setup, [waiver('fuse')]).map(({ id, state }) => `${id} ${state}`);
    expect(order.slice(0, 5)).toEqual([
      'torque-arms failed',
      'axle-width open',
      'cut-off failed',
      'crank-sensor open',
      'handlebar-room failed',
    ]);
    expect(order.slice(5, 7)).toEqual(['connectors likely', 'fuse waived']);
    expect(order.slice(7).every((line) => line.endsWith('passed'))).toBe(true);
  });

  it('say what they cannot do without, and where it belongs', () => {
    const [check] = checkSetup(hubSetup({ packs: [{ ...examplePack, fuseA: null }] }));
    expect(check).toMatchObject({ id: 'fuse', state: 'open', needs: [{ owner: 'pack', field: 'fuseA' }] });
    expect(plainText(check!.arithmetic)).toBe('Cannot check: needs fuse of every pack.');
  });

  it('likely pass where what is missing is usual for such parts, say what was taken, and keep nobody off the road', () => {
    const setup = hubSetup({ packs: [{ ...examplePack, protectionContinuousA: null }] });
    const check = checkSetup(setup).find(({ id }) => id === 'protection-current')!;
    expect(check).toMatchObject({
      state: 'likely',
      needs: [{ owner: 'pack', field: 'protectionContinuousA' }],
    });
    expect(plainText(check.arithmetic)).toContain('Taken as usual: a BMS of 17 A, as packs of 11.6 Ah have');
    expect(plainText(check.remedy)).toContain('Measure to be sure: BMS continuous current');
    expect(countChecks(checkSetup(setup))).toMatchObject({ likely: 1, open: 0, stops: 0 });
  });

  it('never fail anybody on a usual value: what would not pass with it has to be measured', () => {
    // 24 A through a BMS taken as 17.4 A would not do.
    const setup = hubSetup({
      packs: [{ ...examplePack, protectionContinuousA: null }],
      settings: { ...exampleSettings, currentLimitA: 24 },
    });
    expect(states(setup)['protection-current']).toBe('open');
  });

  it('go by the wires the kit was sold with, not by what was set afterwards', () => {
    const bare = { ...exampleKit, wireMm2: null, connectorA: null, currentLimitA: 15 };
    const set = (currentLimitA: number) =>
      states(hubSetup({ kit: bare, settings: { ...exampleSettings, currentLimitA } }));
    expect(set(15)).toMatchObject({ 'wire-heat': 'likely', connectors: 'likely' });
    // 2.5 mm² were enough for 15 A: at 25 A they have to be looked at.
    expect(set(25)['wire-heat']).toBe('open');
    expect(set(35)['connectors']).toBe('open');
  });

  it('never take a guess for what holds the axle', () => {
    const setup = hubSetup({ kit: { ...exampleKit, maxTorqueNm: null } });
    expect(states(setup)['torque-arms']).toBe('open');
  });

  it('count a kit of which one thing was not weighed by its whole mass, never without that thing', () => {
    const box = [
      { what: 'Motor', massKg: 3, place: 'rear-wheel' as const },
      { what: 'Controller', massKg: null, place: 'frame' as const },
    ];
    const at = (totalLimitKg: number, massKg: number | null) =>
      states(hubSetup({ kit: { ...exampleKit, box, massKg }, bike: { ...exampleBike, totalLimitKg } }))['total-load'];
    const whole = rollUp(hubSetup({ kit: { ...exampleKit, box: [], massKg: 5 } })).mass.totalKg;
    expect(at(whole + 0.5, 5)).toBe('likely');
    // Without the controller's share it would pass here.
    expect(at(whole - 0.5, 5)).toBe('open');
    expect(at(400, null)).toBe('likely');
  });

  it('of lead-acid blocks on a trailer ask for no protection circuit, but for the fuse, the hitch and the load', () => {
    const lead = {
      ...examplePack,
      chemistry: 'lead-acid' as const,
      seriesCells: 24,
      nominalVoltageV: 48,
      capacityAh: 20,
      massKg: 24,
      mountKind: 'trailer' as const,
      protectionContinuousA: null,
      protectionPeakA: null,
      protectionCutoffV: null,
      resistanceOhm: null,
      fuseA: null,
    };
    const trailer = {
      ...exampleJoiner,
      name: 'Two-wheel trailer',
      kind: 'trailer' as const,
      place: 'trailer' as const,
      massKg: 9,
      limitKg: 40,
    };
    const setup = hubSetup({ packs: [lead], addOns: [trailer], charger: null });
    const found = states(setup);
    expect(found).not.toHaveProperty('protection-current');
    expect(found).toMatchObject({
      fuse: 'open',
      'trailer-load': 'passed',
      'trailer-hitch': 'open',
      // 24 × 1.75 V = 42 V: above the 36 V at which the kit stops.
      'cut-off': 'open',
    } as never);
    expect(
      states(hubSetup({ packs: [lead], addOns: [{ ...trailer, limitKg: 20 }], charger: null }))['trailer-load'],
    ).toBe('failed');
    expect(states(hubSetup({ packs: [lead], addOns: [], charger: null }))['trailer-load']).toBe('open');
    // An eye confirms what cannot be computed.
    expect(states(setup, [waiver('trailer-hitch', 'passed')])['trailer-hitch']).toBe('passed');
  });

  it('say which facts settle most of them', () => {
    const setup = hubSetup({
      kit: { ...exampleKit, wireMm2: null, connectorA: null, axleWidthMm: null, currentLimitA: null },
      settings: { ...exampleSettings, currentLimitA: null },
    });
    const [first, ...rest] = mostWanted(checkSetup(setup), 5);
    // Without the current neither wires, connectors, fuse nor BMS can be judged.
    expect(first).toMatchObject({ need: { owner: 'kit', field: 'currentLimitA' } });
    expect(first!.stops).toBeGreaterThanOrEqual(4);
    expect(rest.every(({ stops, checks }) => stops <= first!.stops && checks >= 1)).toBe(true);
    expect(mostWanted(checkSetup(hubSetup()), 5)).toEqual([]);
  });

  it('ask for no resistance of packs at one voltage', () => {
    const packs = twoPackSetup().packs.map((pack) => ({ ...pack, resistanceOhm: null, maxChargeA: null }));
    const at = (volts: number[]) => twoPackSetup({ packs, fit: { ...exampleFit, restVoltagesV: volts } });
    expect(states(at([50.2, 50.2]))['packs-difference']).toBe('passed');
    expect(states(at([50.2, 50.1]))['packs-difference']).toBe('likely');
  });

  it.each([
    [
      'the brake at the motor',
      'disc-bolts',
      hubSetup({ bike: { ...exampleBike, rearBrake: null } }),
      'kind of rear brake',
    ],
    [
      'whether the bike folds',
      'folding-hinge',
      hubSetup({ bike: { ...exampleBike, isFolding: null } }),
      'whether the bike folds',
    ],
    ['the charger', 'charger-voltage', hubSetup({ charger: null }), 'a charger'],
    ['the fuse', 'fuse', hubSetup({ packs: [{ ...examplePack, fuseA: null }] }), 'fuse of every pack'],
  ])('do not fall away while %s is not known', (_what, rule, setup, need) => {
    const check = checkSetup(setup).find(({ id }) => id === rule)!;
    expect(check.state).toBe('open');
    expect(plainText(check.arithmetic)).toContain(need);
  });

  it('fall away where there is nothing to check', () => {
    const ids = Object.keys(states(hubSetup({ bike: { ...exampleBike, rearBrake: 'rim', isFolding: false } })));
    expect(ids).not.toContain('disc-bolts');
    expect(ids).not.toContain('folding-hinge');
    expect(ids).not.toContain('shell-kind');
    expect(ids).not.toContain('packs-full');
  });

  it('keep a waiver apart from a pass, and forget it once the check passes', () => {
    const failing = hubSetup({ kit: { ...exampleKit, cutoffV: 27 } });
    expect(states(failing, [waiver('cut-off')])['cut-off']).toBe('waived');
    const [mended] = checkSetup(hubSetup(), [waiver('cut-off')]).filter(({ id }) => id === 'cut-off');
    expect(mended).toMatchObject({ state: 'passed', mark: null });
  });

  it('let an eye confirm what cannot be computed, but not overrule arithmetic', () => {
    const folding = hubSetup({ bike: { ...exampleBike, isFolding: true }, kit: { ...exampleKit, cutoffV: 27 } });
    expect(states(folding)['folding-hinge']).toBe('open');
    const marked = states(folding, [waiver('folding-hinge', 'passed'), waiver('cut-off', 'passed')]);
    expect(marked['folding-hinge']).toBe('passed');
    expect(marked['cut-off']).toBe('failed');
  });

  it('leave the rider’s duties to the rider, to be confirmed in writing', () => {
    const limits = { ...exampleLimits, minimumAge: 16, helmet: 'needed' as const };
    const [duties] = checkSetup(hubSetup({ limits }));
    expect(duties).toMatchObject({ id: 'law-duties', state: 'open', isManual: true });
    expect(plainText(duties!.arithmetic)).toContain('rider of 16 years or more, helmet');
    expect(states(hubSetup({ limits }), [waiver('law-duties', 'passed')])['law-duties']).toBe('passed');
  });

  it('count what keeps the gate shut', () => {
    const setup = hubSetup({ kit: { ...exampleKit, torqueArms: 0, maxTorqueNm: 60, connectorA: null, cutoffV: 27 } });
    expect(countChecks(checkSetup(setup))).toMatchObject({ failed: 2, open: 0, likely: 1, waived: 0, stops: 1 });
    expect(countChecks(checkSetup(setup, [waiver('torque-arms')]))).toMatchObject({ failed: 1, waived: 1, stops: 0 });
  });

  it('each have an id of their own, a basis and a title', () => {
    expect(new Set(RULES.map(({ id }) => id)).size).toBe(RULES.length);
    for (const { basis, title } of RULES) expect(basis.length > 20 && title.length > 5).toBe(true);
  });
});

/** Worked by hand, with pencil and the figures in the left column. */
const worked: readonly [string, string, SetupFacts, string][] = [
  [
    '138 mm of axle and washers in 135 mm of steel: 3 mm of spread, just allowed',
    'axle-width',
    hubSetup({ kit: { ...exampleKit, axleWidthMm: 135 } }),
    'passed: 135 mm axle + 1.5 mm + 1.5 mm washers = 138 mm in a 135 mm rear dropout of steel: spread by 3 mm; allowed: 1 mm of gap to 3 mm of spread',
  ],
  [
    '140 − 135 = 5, two too many',
    'axle-width',
    hubSetup({ kit: { ...exampleKit, axleWidthMm: 137 } }),
    'failed: Remove 2 mm of inner washers, or use a motor with a narrower axle. Do not force the frame apart.',
  ],
  [
    '38 + 1.5 − 34 − 2 = 3.5, half a millimetre short',
    'chain-to-frame',
    hubSetup({ bike: { ...exampleBike, cogStackMm: 34 } }),
    'failed: Add 0.5 mm of washers on the right (mind the dropout width), remove a spacer, or use narrower cogs.',
  ],
  [
    '11 − 1.8 = 9.2 in a hole of 8: 1.7 too deep',
    'disc-bolts',
    hubSetup({ fit: { ...exampleFit, discBoltMm: 11 } }),
    'failed: The bolts bite into the cover. Use bolts of at most 9.3 mm, or 1.7 mm more of washers. Turn the wheel before and after tightening.',
  ],
  [
    '100 − 68 = 32 to fill, 12 spacers of 2.5 make 30',
    'shell-width',
    midSetup({ kit: { ...exampleMidKit, shellWidthMm: 100 } }),
    'failed: Use 12 spacers of 2.5 mm, or thinner ones that fill 32 mm.',
  ],
  [
    'flat √(144 − 100) = 6.63; 2 × 235 × 6 × 44 ÷ 6 = 20 680 N·mm; + 38 = 58.7 against 33 × 1.5 = 49.5',
    'torque-arms',
    hubSetup(),
    'passed: 33 Nm × 1.5 = 49.5 Nm against 20.7 Nm in the steel slots + 38 Nm in 1 arm',
  ],
  [
    '45 × 1.5 = 67.5 − 58.7: one arm more',
    'torque-arms',
    hubSetup({ kit: { ...exampleKit, maxTorqueNm: 45 } }),
    'failed: Fit 1 more torque arm. A spun axle tears its cable out and drops the wheel.',
  ],
  [
    '117 kg at 6.944 m/s: ½ · 117 · 48.2 = 2821 J; 160 · ∛0.940 = 156.8 mm',
    'brake-size',
    hubSetup(),
    'passed: 117 kg from 25 km/h: 2.82 kJ a stop; wants 157 mm, fitted 180 mm',
  ],
  [
    '20 A × 1.2 = 24 against 22',
    'protection-current',
    hubSetup({ kit: { ...exampleKit, currentLimitA: 20 } }),
    'failed: Lower the controller’s limit to 18.3 A, or use a pack that carries 24 A.',
  ],
  [
    '2 · 1.5 m · 14 A ÷ (58 · 1 mm²) = 0.724 V of 1.32 V; 10.1 W',
    'wire-drop',
    hubSetup({ kit: { ...exampleKit, wireLengthM: 1.5, wireMm2: 1 } }),
    'passed: 2 × 1.5 m of 1 mm² at 14 A: 0.724 V lost, 10.1 W of heat; at most 1.32 V',
  ],
  [
    '14 ÷ 1.5 = 9.3 A/mm²; 14 ÷ 7 = 2 mm²',
    'wire-heat',
    hubSetup({ kit: { ...exampleKit, wireMm2: 1.5 } }),
    'failed: Use wire of at least 2 mm².',
  ],
  [
    '13 cells · 4.2 = 54.6',
    'charger-voltage',
    hubSetup({ packs: [{ ...examplePack, seriesCells: 13 }] }),
    'failed: The pack never gets full. Use a charger of 54.6 V.',
  ],
  [
    '48 → 52 is 8.3 %: full 14 · 4.2 = 58.8, display to 56',
    'nominal-voltage',
    hubSetup({
      packs: [{ ...examplePack, nominalVoltageV: 52, seriesCells: 14 }],
      kit: { ...exampleKit, nominalVoltageV: 48, displayMaxV: 56 },
    }),
    'failed: Full, the pack gives more than the display bears. Use a pack of 48 V.',
  ],
  [
    '50.4 − 46.8 = 3.6 V over 0.13 + 0.13 Ω: 13.8 A',
    'packs-difference',
    twoPackSetup({ fit: { ...exampleFit, restVoltagesV: [50.4, 46.8] } }),
    'failed: Do not join them now. Charge each full with its own charger, let them rest, measure again.',
  ],
  [
    '0.05 against 0.10 Ω: two thirds and one third of 14 A',
    'pack-shares',
    twoPackSetup({
      packs: [
        { ...examplePack, mountKind: 'rear-rack', resistanceOhm: 0.05 },
        { ...examplePack, name: 'Second', mountKind: 'rear-rack', resistanceOhm: 0.1 },
      ],
    }),
    'passed: Fennock 44 V 11.6 Ah: 9.3 A of 22 A; Second: 4.7 A of 22 A',
  ],
  [
    'set 28, profile 25',
    'law-speed',
    hubSetup({ settings: { ...exampleSettings, speedLimitKmh: 28 } }),
    'failed: Set the limit to 25 km/h on public ground. Check your local rules; beyond them, private ground only.',
  ],
];
const chargeExample: (typeof worked)[number] = [
  '11.6 Ah ÷ 2.5 A · 1.225 = 5.68 h; 475 Wh ÷ 0.87 = 546 Wh · 0.32 €/kWh = 17 cents',
  'charge-time',
  hubSetup(),
  'passed: 11.6 Ah at 2.5 A, slower at the end: 5.7 h (4.8 h to 6.5 h); 546 Wh from the socket for 0.17 EUR',
];
describe('worked examples', () => {
  it.each([...worked, chargeExample])('%s', (_sum, rule, setup, wanted) => {
    const check = checkSetup(setup).find(({ id }) => id === rule)!;
    const text = check.state === 'failed' ? plainText(check.remedy) : plainText(check.arithmetic);
    expect(`${check.state}: ${text}`).toBe(wanted);
  });
});
