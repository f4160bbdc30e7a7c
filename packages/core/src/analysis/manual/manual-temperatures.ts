import { derivationNumber as num, fromLimit, makeFigure, type Figure, type Warn } from '../figure.js';
import type { TestContext } from '../test-context.js';
import { coolingBySpots } from './cooling-by-spots.js';
import type { ManualReadings } from './manual-readings.js';

/** An infrared thermometer or a probe held to a hub: the surface, not the winding, and never twice on the same spot. */
const SPOT_LIMIT_C = 3;
const AIR_LIMIT_C = 1;
const MIN_COOLING_READINGS = 3;
/** Nobody reads a thermometer three times within a second. */
const MIN_COOLING_S = 1;
/** A half-life that may as well be half or twice as long is no answer. */
const MAX_RELATIVE_UNCERTAINTY = 0.4;

/**
 * Rise of the motor from spot readings, and how fast it cools: `motorTemperatureRise` K, `coolingHalfLife` s.
 * Method: rise is hottest − first reading; half-life from the readings after the hottest (`coolingBySpots`). At least three
 *         readings while cooling.
 */
export function addTemperatureFigures(
  manualReadings: ManualReadings,
  context: TestContext,
  figures: Figure[],
  warn: Warn,
): void {
  const motor = (manualReadings.temperatures ?? [])
    .filter(({ place }) => place === 'motor')
    .sort((a, b) => a.elapsedS - b.elapsedS);
  const airReadings = (manualReadings.temperatures ?? [])
    .filter(({ place }) => place === 'air')
    .map(({ valueC }) => valueC);
  const airC =
    airReadings.length > 0
      ? airReadings.reduce((sum, value) => sum + value, 0) / airReadings.length
      : context.airTemperatureC;
  if (motor.length === 0) return;
  const hottest = motor.reduce((most, one) => (one.valueC > most.valueC ? one : most));
  const first = motor[0]!;
  if (hottest !== first)
    figures.push(
      makeFigure({
        key: 'motorTemperatureRise',
        label: 'Rise of the motor by spot readings',
        value: hottest.valueC - first.valueC,
        unit: 'K',
        n: motor.length,
        contributions: [
          // The same spot is sought each time: most of the error of a reading is common to both, the rest is not.
          { source: 'two spot readings', standardUncertainty: Math.SQRT2 * fromLimit(SPOT_LIMIT_C) },
        ],
        formula: 'hottest − first reading of the motor',
        substituted: `${num(hottest.valueC)} °C − ${num(first.valueC)} °C = ${num(hottest.valueC - first.valueC)} K`,
        inputs: ['spot temperatures'],
        fromS: first.elapsedS,
        toS: hottest.elapsedS,
      }),
    );
  else if (motor.length === 1)
    warn('one-temperature', 'One reading of the motor only: no rise. Read it before the ride and at the stops.');
  if (airC === undefined) return;
  const cooling = motor.filter(({ elapsedS }) => elapsedS >= hottest.elapsedS);
  if (cooling.length < MIN_COOLING_READINGS) return;
  const lastsS = cooling.at(-1)!.elapsedS - hottest.elapsedS;
  const found = coolingBySpots(
    cooling.map(({ elapsedS, valueC }) => ({ elapsedS: elapsedS - hottest.elapsedS, valueC })),
    airC,
    fromLimit(SPOT_LIMIT_C),
    fromLimit(AIR_LIMIT_C),
  );
  if (!found || lastsS < MIN_COOLING_S || found.standardUncertaintyS > MAX_RELATIVE_UNCERTAINTY * found.halfLifeS) {
    warn(
      'cooling-unclear',
      'The readings while cooling lie too close together, or too near the air, for a half-life: read over a longer time, from hotter on.',
    );
    return;
  }
  const value = found.halfLifeS;
  figures.push(
    makeFigure({
      key: 'coolingHalfLife',
      label: 'Cooling half-life',
      value,
      unit: 's',
      n: cooling.length,
      contributions: [{ source: 'spot readings and air', standardUncertainty: found.standardUncertaintyS }],
      formula: 'h of T = T_air + A · 2^(−t ÷ h), fitted to the readings from the hottest on',
      substituted: `${cooling.length} readings over ${num(lastsS)} s, air ${num(airC)} °C: ${num(value)} s`,
      inputs: ['spot temperatures'],
      fromS: cooling[0]!.elapsedS,
      toS: cooling.at(-1)!.elapsedS,
    }),
  );
}
