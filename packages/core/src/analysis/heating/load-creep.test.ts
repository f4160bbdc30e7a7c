import { seededRandom, standardNormal } from '../../numeric/index.js';
import { creepOf } from './load-creep.js';
import { loadsAt, settledHot, timeToRise, type BareLoads } from './heat-behaviour.js';
import type { HeatModel } from './heat-model.js';

const points = Array.from({ length: 200 }, (_, k) => k);
const rise = points.map((k) => k / 4);
const load = (name: 'current' | 'power', of: (k: number) => number) => {
  const bare = points.map(of);
  return { name, bare, values: bare, isCopper: name === 'current' };
};

describe('how a load creeps as the motor warms', () => {
  it('is what the log shows, where it is ridden alike', () => {
    const { perK, standardErrorPerK } = creepOf(
      load('power', (k) => 400 * (1 + 0.001 * (rise[k]! - 25))),
      rise,
      points,
    );
    expect(perK).toBeCloseTo(0.001, 5);
    expect(standardErrorPerK).toBeLessThan(0.0001);
  });
  it('is nothing where the load stays as it was', () =>
    expect(
      Math.abs(
        creepOf(
          load('current', () => 144),
          rise,
          points,
        ).perK,
      ),
    ).toBeLessThan(1e-4));
  it('is what is usual where a load falls or climbs as no copper makes it: a road that eased or steepened', () => {
    for (const share of [-0.01, 0.01])
      expect(
        creepOf(
          load('current', (k) => 144 * (1 + share * rise[k]!)),
          rise,
          points,
        ).perK,
      ).toBe(0.001);
  });
  it('is what is usual where the riding changes more than the motor does, or warms it too little', () => {
    const random = seededRandom(4);
    const wild = creepOf(
      load('power', () => 400 + 300 * standardNormal(random)),
      rise,
      points,
    );
    expect(wild.perK).toBeGreaterThan(-0.0005);
    expect(wild.perK).toBeLessThan(0.0015);
    const cold = creepOf(
      load('power', () => 400),
      points.map((k) => k / 100),
      points,
    );
    expect(cold).toEqual({ perK: 0.0005, standardErrorPerK: 0.0004 });
    expect(
      creepOf(
        load('current', () => 400),
        rise,
        points.slice(0, 10),
      ).perK,
    ).toBe(0.001);
  });
});

describe('a motor that warms while its load creeps', () => {
  const model: HeatModel = { timeConstantsS: [600], startsK: [0], gains: [[0.1 / 600]], airOffsetK: 0 };
  const bare: BareLoads = { values: [400], isCopper: [true], meanC: 40, creepPerK: [0.001] };
  const airC = 20;
  it('settles where what it sheds is what it then takes', () => {
    const s = settledHot(model, bare, airC)!;
    // s = 0.1 · 400 · (1 + 0.001 · (20 + s − 40)) · (1 + 0.00393 · (20 + s − 25))
    expect(0.1 * 400 * (1 + 0.001 * (s - 20)) * (1 + 0.00393 * (s - 5))).toBeCloseTo(s, 6);
    expect(loadsAt(bare, 40)[0]).toBeCloseTo(400 * (1 + 0.00393 * 15), 9);
    expect(settledHot(model, { ...bare, values: [2600] }, airC)).toBeUndefined();
  });
  it('takes as long to a rise as small steps of its own say', () => {
    let [T, t] = [airC, 0];
    const dt = 0.05;
    while (T < 60) {
      const loss = 400 * (1 + 0.001 * (T - 40)) * (1 + 0.00393 * (T - 25));
      T += ((0.1 * loss - (T - airC)) / 600) * dt;
      t += dt;
    }
    expect(Math.abs(timeToRise(40, model, bare, airC) / t - 1)).toBeLessThan(0.002);
    expect(timeToRise(500, model, bare, airC)).toBeNaN();
  });
});
