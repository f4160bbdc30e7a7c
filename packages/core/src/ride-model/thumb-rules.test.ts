import { thumbRange } from '../bench/index.js';
import { seededRandom, standardNormal } from '../numeric/index.js';
import { exampleKit, hubSetup, midSetup, twoPackSetup } from '../testing/example-bench.js';
import { learnedRule, thumbWayOf, workedThumbRules, type WorkedRule } from './index.js';

const withThrottle = (): ReturnType<typeof hubSetup> => ({
  ...hubSetup(),
  kit: { ...exampleKit, throttle: 'thumb' },
});
const ruleOf = (setup = hubSetup(), way = 'pedalling'): WorkedRule =>
  workedThumbRules(setup).find((rule) => rule.way === way)!;

describe('rules of thumb worked out by the ride model', () => {
  it.each([
    ['hub', withThrottle],
    ['mid', midSetup],
  ])('lie where ordinary rides do, the throttle above pedalling: %s', (_, setup) => {
    for (const rule of workedThumbRules(setup())) {
      expect(rule.whPerKm).toBeGreaterThan(3);
      expect(rule.whPerKm).toBeLessThan(25);
      expect(rule.lowerWhPerKm).toBeLessThan(rule.whPerKm);
      expect(rule.upperWhPerKm).toBeGreaterThan(1.1 * rule.whPerKm);
    }
  });
  it('by throttle alone it takes more, and a loaded bike takes more than an empty one', () => {
    const setup = withThrottle();
    expect(ruleOf(setup, 'throttle').whPerKm).toBeGreaterThan(ruleOf(setup).whPerKm);
    const loaded = { ...setup, fit: { ...setup.fit, payloadKg: (setup.fit.payloadKg ?? 0) + 40 } };
    expect(ruleOf(loaded).whPerKm).toBeGreaterThan(1.05 * ruleOf(setup).whPerKm);
  });
  it('a kit without a throttle has no rule for one', () => {
    const ways = workedThumbRules({ ...withThrottle(), kit: { ...exampleKit, throttle: 'none' } }).map(
      ({ way }) => way,
    );
    expect(ways).toEqual(['pedalling']);
  });
  it('agrees with the balance of forces on the level: rolling and air at a steady speed', () => {
    // By hand: throttle at v, (c_rr m g + 0.5 ρ CdA v²) per km over 0.75 to 0.9 of efficiency; hills and stops add at most as much again.
    const setup = withThrottle();
    const { whPerKm, name } = ruleOf(setup, 'throttle');
    const v = Number(/near (\d+)/.exec(name)![1]) / 3.6;
    const plain = (0.0085 * 110 * 9.81 + 0.5 * 1.225 * 0.62 * v * v) / 3.6;
    expect(whPerKm).toBeGreaterThan(plain / 0.95);
    expect(whPerKm).toBeLessThan((2 * plain) / 0.75);
  });
});

describe('a rule of thumb that own rides teach', () => {
  const rule = ruleOf();
  it('stays as it was without rides and moves towards them with each', () => {
    expect(learnedRule(rule, [])).toBe(rule);
    const target = rule.whPerKm * 1.5;
    const one = learnedRule(rule, [target]);
    const four = learnedRule(rule, [target, target, target, target]);
    expect(one.whPerKm).toBeGreaterThan(rule.whPerKm);
    expect(four.whPerKm).toBeGreaterThan(one.whPerKm);
    expect(four.whPerKm).toBeLessThan(target);
    expect(one.basis).toMatch(/^one own ride and the ride model/);
  });
  it('holds the next ride in 90 to 99 of 100, whatever the number of rides', () => {
    const random = seededRandom(5);
    for (const n of [1, 3, 6, 20]) {
      const held = Array.from({ length: 300 }, () => {
        // The bike differs from the model by its own span; rides scatter by 12 %.
        const half = Math.log(rule.upperWhPerKm / rule.lowerWhPerKm) / 3.92;
        const own = rule.whPerKm * Math.exp(half * standardNormal(random));
        const next = (): number => own * Math.exp(0.12 * standardNormal(random));
        const learned = learnedRule(rule, Array.from({ length: n }, next));
        const one = next();
        return one > learned.lowerWhPerKm && one < learned.upperWhPerKm;
      }).filter(Boolean).length;
      expect(held / 300).toBeGreaterThan(0.9);
      expect(held / 300).toBeLessThan(0.995);
    }
  });
  it('is taught by the way a ride was pedalled', () => {
    expect(['throttle', 'ghost', 'light', 'hard', 'off', null].map((one) => thumbWayOf(one as never))).toEqual([
      'throttle',
      'throttle',
      'pedalling',
      'pedalling',
      undefined,
      undefined,
    ]);
  });
});

describe('a range by rule of thumb', () => {
  it('counts all packs, keeps a share back and carries both doubts', () => {
    const rule = ruleOf(twoPackSetup());
    const [all, less] = [0, 0.2].map((share) => thumbRange(twoPackSetup(), rule, share));
    if (!('value' in all!) || !('value' in less!)) throw new Error('packs are known');
    expect(less.value).toBeCloseTo(0.8 * all.value, 9);
    expect(less.upper / less.value).toBeGreaterThan(rule.whPerKm / rule.lowerWhPerKm);
    expect(less.basis).toContain('less 20 % kept back');
  });
});
