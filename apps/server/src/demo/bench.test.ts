import {
  checkSetup,
  countChecks,
  fittingSteps,
  clearanceItems,
  openClearance,
  type Mark,
  type SetupFacts,
} from '@ebrix/core/bench';
import { setupFitSchema, setupSettingsSchema } from '@ebrix/contract';
import { ADD_ONS, BIKES, CHARGERS, KITS, LIMITS, PACKS } from './bench-parts.js';
import { BENCH_SETUPS, type BenchSetup } from './bench-setups.js';
import { SETUPS } from './scenario.js';

const find = <T extends { readonly name: string }>(list: readonly T[], name: string): T => {
  const part = list.find((one) => one.name === name);
  if (!part) throw new Error(`no ${name}`);
  return part;
};
const factsOf = (setup: BenchSetup): SetupFacts => ({
  bike: find(BIKES, setup.bike),
  kit: find(KITS, setup.kit),
  packs: [find(PACKS, setup.pack)],
  charger: find(CHARGERS, setup.charger),
  addOns: setup.addOns.map((name) => find(ADD_ONS, name)),
  limits: find(LIMITS, setup.limits),
  settings: setupSettingsSchema.parse(setup.settings),
  fit: setupFitSchema.parse(setup.fit),
});
const marksOf = ({ waived }: BenchSetup): Mark[] =>
  waived.flatMap(({ ids, reason }) =>
    ids.map((id) => ({ id, kind: 'waived' as const, by: 'Ottoline Vask', reason, at: '2026-04-01T08:00:00.000Z' })),
  );

describe('the bench of the demo', () => {
  it('has every setup that is ridden, and one that is planned', () => {
    const names = BENCH_SETUPS.map(({ name }) => name);
    for (const { name } of Object.values(SETUPS)) expect(names).toContain(name);
    expect(BENCH_SETUPS.filter(({ isCleared }) => !isCleared)).toHaveLength(1);
  });

  it('shows a setup that fails two checks, with one more waived that would have failed', () => {
    const planned = BENCH_SETUPS.find(({ isCleared }) => !isCleared)!;
    const checks = checkSetup(factsOf(planned), marksOf(planned));
    expect(checks.filter(({ state }) => state === 'failed').map(({ id }) => id)).toEqual([
      'torque-arms',
      'protection-current',
    ]);
    expect(checks.find(({ id }) => id === 'handlebar-room')).toMatchObject({
      state: 'waived',
      mark: { by: 'Ottoline Vask' },
    });
    expect(countChecks(checks).open).toBe(0);
  });

  it('rides only setups on which nothing that can hurt is failed or open', () => {
    for (const setup of BENCH_SETUPS.filter(({ isCleared }) => isCleared)) {
      const facts = factsOf(setup);
      const checks = checkSetup(facts, marksOf(setup));
      expect([setup.name, countChecks(checks).stops, countChecks(checks).open]).toEqual([setup.name, 0, 0]);
      expect(openClearance(clearanceItems(facts, checks, [])).some(({ id }) => id === 'clearance-checks')).toBe(false);
    }
  });

  it('notes fitting times only for steps that the setup has', () => {
    for (const setup of BENCH_SETUPS) {
      const steps = new Set(fittingSteps(factsOf(setup)).map(({ id }) => id));
      expect([setup.name, Object.keys(setup.fitting).filter((id) => !steps.has(id))]).toEqual([setup.name, []]);
    }
  });
});
