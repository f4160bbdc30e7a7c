import fc from 'fast-check';
import {
  exampleBike,
  exampleJoiner,
  exampleKit,
  examplePack,
  hubSetup,
  midSetup,
  twoPackSetup,
} from '../testing/example-bench.js';
import {
  checkSetup,
  CHECKS_ITEM,
  fittingSteps,
  clearanceItems,
  openClearance,
  plainText,
  standFigures,
  SYMPTOMS,
  rollUp,
  wheelCircumference,
  type Mark,
  type SetupFacts,
  type StandReadings,
} from './index.js';

const mark = (id: string, kind: Mark['kind'] = 'passed'): Mark => ({
  id,
  kind,
  by: 'Ottoline Vask',
  reason: kind === 'waived' ? 'No switches on this kit; stops in half a turn.' : '',
  at: '2026-04-01T08:00:00.000Z',
});
const items = (setup: SetupFacts, marks: Mark[] = []) => clearanceItems(setup, checkSetup(setup, marks), marks);

describe('a bike before conversion', () => {
  const before: SetupFacts = { ...hubSetup(), kit: null, packs: [], charger: null };
  it('has nothing to check and nothing to fit, but brakes and a helmet', () => {
    expect(checkSetup(before)).toEqual([]);
    expect(fittingSteps(before)).toEqual([]);
    expect(items(before).map(({ id }) => id)).toEqual([CHECKS_ITEM, 'clearance-brakes', 'clearance-helmet']);
  });
  it('adds nothing to the bike, costs nothing, and says that a motor is what its speed would need', () => {
    const { mass, money, noLoadSpeed, energy } = rollUp(before);
    expect(mass.addedKg).toBe(0);
    expect(mass.fittedKg).toBe(before.bike.massKg);
    expect(money.totals).toEqual([]);
    expect(money.missing).toEqual([]);
    expect(noLoadSpeed).toEqual({ missing: ['a motor'] });
    expect(energy.usable).toEqual({ missing: ['a pack'] });
    expect([energy.nominalWh, energy.capacityAh]).toEqual([null, null]);
  });
});

describe('gates', () => {
  it('are all open at first but the one that is computed', () => {
    const list = items(hubSetup());
    expect(list[0]).toMatchObject({ id: CHECKS_ITEM, state: 'passed', isComputed: true });
    expect(openClearance(list)).toHaveLength(list.length - 1);
  });
  it('open the way only when every one is passed or waived', () => {
    const ids = items(hubSetup())
      .map(({ id }) => id)
      .slice(1);
    const marks = ids.map((id) => mark(id));
    expect(openClearance(items(hubSetup(), marks))).toEqual([]);
    fc.assert(
      fc.property(fc.subarray(ids, { maxLength: ids.length - 1 }), (some) => {
        const left = openClearance(
          items(
            hubSetup(),
            some.map((id) => mark(id)),
          ),
        );
        expect(left.map(({ id }) => id)).toEqual(ids.filter((id) => !some.includes(id)));
      }),
    );
  });
  it('stay shut while a check that can hurt is failed or open; waiving that check opens it', () => {
    const risky = hubSetup({ kit: { ...exampleKit, torqueArms: 0, maxTorqueNm: 60 } });
    expect(items(risky)[0]).toMatchObject({ state: 'open' });
    expect(plainText(items(risky)[0]!.what)).toContain('1 check that can hurt someone is failed or open');
    expect(items(risky, [mark('torque-arms', 'waived')])[0]).toMatchObject({ state: 'passed' });
  });
  it('cannot be passed by marking the computed one', () => {
    const risky = hubSetup({ kit: { ...exampleKit, torqueArms: 0, maxTorqueNm: 60 } });
    expect(items(risky, [mark(CHECKS_ITEM)])[0]!.state).toBe('open');
  });
  it('fit the setup: mid motors have no axle nuts, lead-acid no lithium gate', () => {
    const ids = (setup: SetupFacts) => items(setup).map(({ id }) => id);
    expect(ids(midSetup())).toContain('clearance-mid-mount');
    expect(ids(midSetup())).not.toContain('clearance-axle');
    expect(ids(hubSetup({ packs: [{ ...examplePack, chemistry: 'lead-acid' }] }))).not.toContain('clearance-lithium');
    const without = items(hubSetup({ kit: { ...exampleKit, brakeSwitches: 'none' } }));
    expect(plainText(without.find(({ id }) => id === 'clearance-cut')!.what)).toContain('waive it in writing');
  });
});

describe('fitting steps', () => {
  const ids = (setup: SetupFacts) => fittingSteps(setup).map(({ id }) => id);
  it('come in the order of the work', () => {
    const order = ids(hubSetup());
    expect(order[0]).toBe('unpack');
    expect(order.at(-1)).toBe('settings');
    const follows = (first: string, then: string): boolean => order.indexOf(first) < order.indexOf(then);
    expect(follows('wheel-out', 'cogs') && follows('disc', 'wheel-in') && follows('cables', 'power-on')).toBe(true);
  });
  it('differ for hub and mid motors, brakes, packs and sensors', () => {
    expect(ids(midSetup())).toEqual(expect.arrayContaining(['cranks-off', 'motor-in', 'chainring']));
    expect(ids(midSetup())).not.toContain('wheel-out');
    expect(ids(hubSetup({ bike: { ...exampleBike, rearBrake: 'rim' } }))).not.toContain('disc');
    expect(ids(hubSetup({ kit: { ...exampleKit, motorKind: 'front-hub' } }))).not.toContain('cogs');
    expect(ids(twoPackSetup())).toContain('join-packs');
    expect(
      ids(hubSetup({ kit: { ...exampleKit, controllerPlace: 'inside', sensor: 'none', brakeSwitches: 'none' } })),
    ).not.toEqual(expect.arrayContaining(['controller']));
    expect(ids(hubSetup({ addOns: [{ ...exampleJoiner, kind: 'cooling-fluid' }] }))).toContain('cooling');
  });
  it('never repeat an id, and put the caution at the spot where a wheel or axle can hurt', () => {
    for (const setup of [hubSetup(), midSetup(), twoPackSetup()])
      expect(new Set(ids(setup)).size).toBe(ids(setup).length);
    const wheelIn = fittingSteps(hubSetup()).find(({ id }) => id === 'wheel-in')!;
    expect(wheelIn.caution).toContain('torque arm');
  });
  it('warn of drilling only where rivet nuts are set', () => {
    const caution = (mountKind: 'bosses' | 'rivet-nuts') =>
      fittingSteps(hubSetup({ packs: [{ ...examplePack, mountKind }] })).find(({ id }) => id === 'battery-mount')!
        .caution;
    expect([caution('bosses'), caution('rivet-nuts')]).toEqual(['', expect.stringContaining('never a carbon')]);
  });
});

const none: StandReadings = {
  rollOutTurns: null,
  rollOutM: null,
  rollOutLimitMm: null,
  timedTurns: null,
  timedS: null,
  displaySpeedKmh: null,
  noLoadSpeedKmh: null,
  noLoadCurrentA: null,
  spinDownS: [],
  frontKg: null,
  rearKg: null,
  scaleLimitKg: null,
};
describe('stand test', () => {
  it('takes the wheel from a roll-out: 21.04 m in ten turns, ±5 mm at both ends and 0.05 % of tape', () => {
    const wheel = wheelCircumference(10, 21.04, 5);
    expect(wheel.value).toBeCloseTo(2.104, 9);
    const u = Math.hypot((Math.SQRT2 * 0.005) / Math.sqrt(3) / 10, (0.0005 * 2.104) / Math.sqrt(3));
    expect(wheel.standardUncertainty).toBeCloseTo(u, 9);
    expect(wheel.interval95[0]).toBeLessThan(2.104);
  });
  it('gets surer with more turns, down to what the tape allows', () =>
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 30 }), (turns) => {
        const [few, more] = [turns, turns + 1].map((n) => wheelCircumference(n, 2.1 * n, 5).standardUncertainty);
        expect(more!).toBeLessThan(few!);
        expect(more!).toBeGreaterThan((0.0005 * 2.1) / Math.sqrt(3) - 1e-12);
      }),
    ));
  it('covers the true circumference as often as it says', () => {
    let seed = 7;
    const random = (): number => ((seed = (seed * 16807) % 2147483647) - 1) / 2147483646;
    let covered = 0;
    const rounds = 2000;
    for (let k = 0; k < rounds; k++) {
      const ends = (random() + random() - 1) * 2 * 0.005;
      const tape = 1 + (2 * random() - 1) * 0.0005;
      const [low, high] = wheelCircumference(5, (5 * 2.1 + ends) * tape, 5).interval95;
      if (low <= 2.1 && 2.1 <= high) covered++;
    }
    expect(covered / rounds).toBeGreaterThan(0.93);
  });
  it('says how far the display is off, from the setting and by the stopwatch', () => {
    const figures = standFigures(
      { ...none, rollOutTurns: 10, rollOutM: 20, timedTurns: 100, timedS: 36, displaySpeedKmh: 21 },
      2.1,
    );
    const of = (key: string) => figures.find((figure) => figure.key === key)!;
    expect(of('displayError').value).toBeCloseTo(0.05, 9);
    expect(of('displayErrorTimed').value).toBeCloseTo(0.05, 9);
    expect(of('displayErrorTimed').standardUncertainty).toBeGreaterThan(of('displayError').standardUncertainty);
  });
  it('weighs both wheels', () => {
    const [mass, share] = standFigures({ ...none, frontKg: 12, rearKg: 18 }, null);
    expect([mass!.value, share!.value]).toEqual([30, 0.4]);
    expect(mass!.standardUncertainty).toBeCloseTo((0.1 / Math.sqrt(3)) * Math.SQRT2, 9);
  });
  it('averages spin-downs and keeps one alone to the thumb', () => {
    const of = (spinDownS: number[]) => standFigures({ ...none, spinDownS }, null)[0]!;
    expect(of([8.2, 8.6, 8.4]).value).toBeCloseTo(8.4, 9);
    expect(of([8.2, 8.6, 8.4]).n).toBe(3);
    expect(of([8.4]).standardUncertainty).toBeCloseTo((0.2 / Math.sqrt(3)) * Math.SQRT2, 9);
  });
  it('gives no figure for what was not read', () => expect(standFigures(none, 2.1)).toEqual([]));
  it('gives every reading a unit and an uncertainty', () => {
    for (const figure of standFigures(
      { ...none, noLoadSpeedKmh: 32.4, noLoadCurrentA: 0.9, spinDownS: [5], frontKg: 12, rearKg: 15 },
      null,
    ))
      expect(figure.standardUncertainty).toBeGreaterThan(0);
  });
});

it('lists suspects for every symptom, each once', () => {
  expect(SYMPTOMS.map(({ id }) => id)).toEqual(['noise', 'cut-outs', 'no-start', 'error-at-start', 'speed-off']);
  for (const { suspects } of SYMPTOMS) {
    expect(suspects.length).toBeGreaterThan(3);
    expect(new Set(suspects.map(({ id }) => id)).size).toBe(suspects.length);
  }
});
