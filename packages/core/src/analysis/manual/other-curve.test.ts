import { seededRandom, standardNormal } from '../../numeric/index.js';
import { manualFigures, type ManualReadings, type TestContext } from '../index.js';

/** A rest-voltage curve that is not the product's own: a cell of the same chemistry, 0.05 V higher in the middle. */
const CURVE = [
  [0, 3],
  [0.05, 3.3],
  [0.1, 3.45],
  [0.2, 3.55],
  [0.3, 3.61],
  [0.4, 3.66],
  [0.5, 3.73],
  [0.6, 3.82],
  [0.7, 3.92],
  [0.8, 4],
  [0.9, 4.08],
  [1, 4.17],
] as const;
function restV(charge: number): number {
  const k = CURVE.findIndex(([x]) => x >= charge);
  if (k <= 0) return CURVE[0][1];
  const [[a, low], [b, high]] = [CURVE[k - 1]!, CURVE[k]!];
  return low + ((high - low) * (charge - a)) / (b - a);
}

/** An aged pack, a display that is out by a little, bars that go out early under load: none of it from the product's own model. */
describe('by hand, on a bike the product does not know', () => {
  const random = seededRandom(414);
  const draw = (kind: 'bars' | 'socket' | 'volts') => {
    const labelAh = [8.7, 10.4, 11.6, 13, 14.5][Math.floor(random() * 5)]!;
    const wh = 36 * labelAh * (0.97 - 0.12 * random());
    const whPerKm = 5 + 8 * random();
    const used = Math.min(0.8, ((4 + 26 * random()) * whPerKm) / wh);
    const km = (used * wh) / whPerKm;
    const edges = [0.08, 0.28, 0.48, 0.66, 0.84].map((t) => Math.max(0.02, t + 0.05 * standardNormal(random)) - 0.04);
    const volts = (charge: number): number =>
      Math.round(10 * (10 * restV(charge) + 0.08 * standardNormal(random))) / 10;
    const readings: ManualReadings = {
      tripDistanceKm: Math.round(10 * km * (1 + 0.008 * standardNormal(random))) / 10,
      tripStepKm: 0.1,
      ...(kind === 'volts' && { restVoltageStartV: volts(1), restVoltageEndV: volts(1 - used) }),
      ...(kind === 'socket' && {
        wallEnergyWh: 10 * Math.round((used * wh) / (0.8 + 0.1 * random()) / 10),
        wallStepWh: 10,
      }),
    };
    const context: TestContext = {
      pack: { chemistry: 'li-ion-nmc', capacityAh: labelAh, nominalVoltageV: 36 },
      ...(kind === 'bars' && {
        gauge: { startShare: 1, endShare: edges.filter((edge) => 1 - used > edge).length / 5, stepShare: 0.2 },
      }),
    };
    return { readings, context, truth: whPerKm };
  };
  it.each(['bars', 'socket', 'volts'] as const)('consumption by %s holds the truth in 90 of 100 or more', (kind) => {
    let [held, of] = [0, 0];
    for (let k = 0; k < 600; k++) {
      const { readings, context, truth } = draw(kind);
      const figure = manualFigures('range', readings, context, () => undefined).find(
        ({ key }) => key === 'netConsumption',
      );
      if (!figure) continue;
      of++;
      if (figure.interval95[0] <= truth && truth <= figure.interval95[1]) held++;
    }
    expect(of).toBeGreaterThan(300);
    expect(held / of).toBeGreaterThan(0.9);
    expect(held / of).toBeLessThan(0.999);
  });
});
