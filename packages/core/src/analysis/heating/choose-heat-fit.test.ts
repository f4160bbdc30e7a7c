import { seededRandom, standardNormal } from '../../numeric/index.js';
import { chooseHeatFit } from './choose-heat-fit.js';
import type { HeatLoad } from './heat-points.js';

const TAU_S = 600;
const N = 900;
const timeS = Array.from({ length: N }, (_, k) => 3 * k);
/** Loads of three heights by turns for half of the time, so that a power and its square are not one. */
const watts = timeS.map((t) => (t < 1400 ? [150, 400, 250][Math.floor(t / 120) % 3]! : 0));
const amps2 = watts.map((w) => (w / 48) ** 2);
const LOADS: readonly HeatLoad[] = [
  { name: 'current', values: amps2, bare: amps2, isCopper: true },
  { name: 'power', values: watts, bare: watts, isCopper: false },
];

/** The rise of one node driven by a loss, by small steps, with noise. */
function driven(loss: (k: number) => number, noiseK = 0.1, airOffK = 0): number[] {
  const random = seededRandom(8);
  let rise = 0;
  return timeS.map((_, k) => {
    const now = rise + airOffK + noiseK * standardNormal(random);
    for (let s = 0; s < 30; s++) {
      const part = s / 30;
      const between = loss(k) * (1 - part) + loss(Math.min(N - 1, k + 1)) * part;
      rise += 0.1 * (between - rise / TAU_S);
    }
    return now;
  });
}
const chosen = (riseK: readonly number[]) => {
  const fit = chooseHeatFit({ timeS, riseK, loads: LOADS })!;
  return { names: fit.readings.loads.map(({ name }) => name), ...fit.model };
};

describe('what the loss in a motor follows', () => {
  it('is the current squared where it does', () => {
    const { names, gains, timeConstantsS } = chosen(driven((k) => 0.002 * amps2[k]!));
    // AICc lets a second load in that chance favours now and then; its share is then next to nothing.
    const shares = names.map((name, j) => gains[j]![0]! * LOADS.find((load) => load.name === name)!.values[60]!);
    const all = shares.reduce((sum, share) => sum + share, 0);
    expect(shares[names.indexOf('current')]! / all).toBeGreaterThan(0.97);
    expect(Math.abs(timeConstantsS[0]! / TAU_S - 1)).toBeLessThan(0.01);
  });
  it('is the power where it does', () => expect(chosen(driven((k) => 0.0003 * watts[k]!)).names).toEqual(['power']));
  it('is both where both warm it, each with its share', () => {
    const { names, gains } = chosen(driven((k) => 0.0002 * watts[k]! + 0.001 * amps2[k]!));
    expect(names).toEqual(['power', 'current']);
    expect(Math.abs(gains[0]![0]! / 0.0002 - 1)).toBeLessThan(0.1);
    expect(Math.abs(gains[1]![0]! / 0.001 - 1)).toBeLessThan(0.1);
  });
  it('is told apart from an air that was noted half a degree wrong', () => {
    const { timeConstantsS, airOffsetK } = chosen(driven((k) => 0.002 * amps2[k]!, 0.1, 0.5));
    expect(Math.abs(airOffsetK - 0.5)).toBeLessThan(0.1);
    expect(Math.abs(timeConstantsS[0]! / TAU_S - 1)).toBeLessThan(0.015);
  });
  it('is nothing without a load', () =>
    expect(chooseHeatFit({ timeS, riseK: driven(() => 0.05), loads: [] })).toBeUndefined());
});
