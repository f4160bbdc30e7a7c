import { seededRandom, standardNormal } from '../../numeric/index.js';
import { regeneratedEnergy } from './regeneration.js';

const GAP_S = 5;
const columns = (seconds: number, hz: number, at: (t: number) => number): [Float64Array, Float64Array] => {
  const timeS = Float64Array.from({ length: seconds * hz + 1 }, (_, k) => k / hz);
  return [timeS, timeS.map(at)];
};
/** Pulses of 200 W back for 4 s in every 30 s, 250 W out otherwise; edges between samples. */
const PULSE_FROM_S = 20.35;
const PULSE_TO_S = 24.35;
const power = (t: number): number => (t % 30 >= PULSE_FROM_S && t % 30 < PULSE_TO_S ? -200 : 250);

describe('energy regenerated', () => {
  it('is that of the pulses, within what their unseen edges leave open', () => {
    for (const hz of [1, 2, 10]) {
      const [timeS, powerW] = columns(600, hz, power);
      const { energyJ, edgeUncertaintyJ } = regeneratedEnergy(
        timeS,
        powerW,
        { current: powerW.map((w) => w / 50) },
        GAP_S,
      );
      const truth = 20 * 200 * (PULSE_TO_S - PULSE_FROM_S);
      expect(Math.abs(energyJ - truth)).toBeLessThan(3 * edgeUncertaintyJ + 1e-6);
      expect(edgeUncertaintyJ).toBeLessThan(0.25 * truth);
    }
  });
  it('is the surer the more often it was looked at', () => {
    const uncertainty = (hz: number): number => {
      const [timeS, powerW] = columns(600, hz, power);
      return regeneratedEnergy(timeS, powerW, {}, GAP_S).edgeUncertaintyJ;
    };
    expect(uncertainty(10)).toBeLessThan(uncertainty(2));
    expect(uncertainty(2)).toBeLessThan(uncertainty(1));
  });
  it('is none of noise about zero, but says what may lie in it', () => {
    const random = seededRandom(3);
    const [timeS, current] = columns(600, 5, () => 0.1 * standardNormal(random));
    const voltage = current.map(() => 50);
    const found = regeneratedEnergy(
      timeS,
      current.map((a) => 50 * a),
      { current, voltage },
      GAP_S,
    );
    // Samples beyond three standard deviations of the noise are few.
    expect(found.energyJ).toBeLessThan(0.01 * found.hiddenJ);
    expect(found.hiddenJ).toBeGreaterThan(0);
    expect(found.idleVoltHours).toBeCloseTo((600 * 50) / 3600, 0);
  });
  it('places the edge where the bike begins to slow down', () => {
    const [timeS, powerW] = columns(120, 1, power);
    const speedAt = (t: number): number => {
      const inCycle = t % 30;
      return inCycle < PULSE_FROM_S ? 7 : inCycle < PULSE_TO_S ? 7 - (inCycle - PULSE_FROM_S) : 3;
    };
    const speed = timeS.map(speedAt);
    const located = regeneratedEnergy(timeS, powerW, { speed }, GAP_S);
    const blind = regeneratedEnergy(timeS, powerW, {}, GAP_S);
    expect(located.edgeUncertaintyJ).toBeLessThan(blind.edgeUncertaintyJ);
  });
  it('is not guessed across a gap', () => {
    // A hundred seconds out, then back; the logger sleeps from then until the bike drives again.
    const timeS = Float64Array.from({ length: 202 }, (_, k) => (k <= 100 ? k : k + 60));
    const powerW = timeS.map((t) => (t === 100 || t === 161 ? -200 : 100));
    const { energyJ } = regeneratedEnergy(timeS, powerW, {}, GAP_S);
    // One edge on either side of the gap, half a second of 200 W each.
    expect(energyJ).toBeCloseTo(200, 6);
  });
});
