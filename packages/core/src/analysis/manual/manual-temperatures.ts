import { derivationNumber as num, fromLimit, makeFigure, type Figure, type Warn } from '../figure.js';
import type { TestContext } from '../test-context.js';
import type { ManualReadings } from './manual-readings.js';

/** An infrared thermometer or a probe held to a hub: the surface, not the winding, and never twice on the same spot. */
const SPOT_LIMIT_C = 3;
const AIR_LIMIT_C = 1;
const MIN_COOLING_READINGS = 3;
const MIN_ABOVE_AIR_K = 3;
/** Nobody reads a thermometer three times within a second. */
const MIN_COOLING_S = 1;

/**
 * Rise of the motor from spot readings, and how fast it cools: `motorTemperatureRise` K, `coolingHalfLife` s.
 * Method: rise is hottest − first reading; half-life from the line through ln(T − T_air) over time after the hottest
 *         reading, with the readings' own limits carried through the weights. At least three readings while cooling.
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
  const cooling = motor.filter(
    ({ elapsedS, valueC }) => elapsedS >= hottest.elapsedS && valueC - airC >= MIN_ABOVE_AIR_K,
  );
  if (cooling.length < MIN_COOLING_READINGS) return;
  // ln(T − Ta): a reading's error weighs the more, the nearer it is to the air.
  let sw = 0;
  let swx = 0;
  let swy = 0;
  const points = cooling.map(({ elapsedS, valueC }) => {
    const rise = valueC - airC;
    const weight = (rise / Math.hypot(fromLimit(SPOT_LIMIT_C), fromLimit(AIR_LIMIT_C))) ** 2;
    const point = { x: elapsedS - hottest.elapsedS, y: Math.log(rise), weight };
    sw += weight;
    swx += weight * point.x;
    swy += weight * point.y;
    return point;
  });
  const meanX = swx / sw;
  const meanY = swy / sw;
  const sxx = points.reduce((sum, { x, weight }) => sum + weight * (x - meanX) ** 2, 0);
  const sxy = points.reduce((sum, { x, y, weight }) => sum + weight * (x - meanX) * (y - meanY), 0);
  const slope = sxy / sxx;
  const slopeUncertainty = 1 / Math.sqrt(sxx);
  const lastsS = cooling.at(-1)!.elapsedS - cooling[0]!.elapsedS;
  if (lastsS < MIN_COOLING_S || !(slope < 0) || slopeUncertainty > Math.abs(slope)) {
    warn(
      'cooling-unclear',
      'The readings while cooling lie too close together for a half-life: read over a longer time.',
    );
    return;
  }
  const value = Math.LN2 / -slope;
  figures.push(
    makeFigure({
      key: 'coolingHalfLife',
      label: 'Cooling half-life',
      value,
      unit: 's',
      n: cooling.length,
      contributions: [{ source: 'spot readings', standardUncertainty: (value * slopeUncertainty) / Math.abs(slope) }],
      formula: 'ln 2 ÷ fall of ln(T − T_air) per second',
      substituted: `0.6931 ÷ ${num(-slope)} = ${num(value)} s`,
      inputs: ['spot temperatures'],
      fromS: cooling[0]!.elapsedS,
      toS: cooling.at(-1)!.elapsedS,
    }),
  );
}
