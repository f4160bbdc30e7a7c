import { say } from '../../units/index.js';
import {
  fromLimit,
  fromResolution,
  makeFigure,
  derivationNumber as num,
  derivationQuantity as qty,
  type Contribution,
  type Figure,
} from '../figure.js';
import { systematic } from '../contributions.js';
import type { ManualReadings } from './manual-readings.js';

/** A figure of energy before it has its name. */
export type EnergyByHand = Pick<
  Parameters<typeof makeFigure>[0],
  'contributions' | 'formula' | 'inputs' | 'substituted' | 'value'
>;
/** Less than any meter shows: nothing was measured. */
export const MIN_ENERGY_WH = 0.1;
export const MIN_SHARE = 0.001;
/** A trip counter at zero has counted nothing: no figure per km. */
export const MIN_TRIP_KM = 0.001;
export const DEFAULT_TRIP_STEP_KM = 0.1;

/** A thumb on a stopwatch at a gate is early or late by up to this. */
export const THUMB_LIMIT_S = 0.3;
/** A display's distance rests on the wheel size typed into it. */
const DISPLAY_GAIN_LIMIT = 0.015;
/** A course's length, paced or drawn. */
const COURSE_LENGTH_LIMIT = 0.005;

/** Two presses, start and finish: each early or late on its own. */
export function thumb(passes: number): Contribution {
  return { source: 'reaction on the stopwatch', standardUncertainty: Math.sqrt(2 * passes) * fromLimit(THUMB_LIMIT_S) };
}

/** Of a time that was read off and not stopped. */
export function stepOfWatch(stepS: number): Contribution {
  return { source: 'step of the watch', standardUncertainty: fromResolution(stepS), isRectangular: true };
}

/** Of a distance or a speed that the display shows. */
export function wheelSizeInDisplay(value: number): Contribution {
  return systematic('wheel size in the display', fromLimit(DISPLAY_GAIN_LIMIT * value));
}

/** Of a figure that grows in proportion with the course's length. */
export function courseLength(value: number): Contribution {
  return systematic('length of the course', fromLimit(COURSE_LENGTH_LIMIT * value));
}

/** How far a display says that the ride went, by trip counter or odometer, km. */
export function countedKm({ tripDistanceKm, odometerStartKm, odometerEndKm }: ManualReadings): number | undefined {
  if (tripDistanceKm !== undefined && tripDistanceKm > MIN_TRIP_KM) return tripDistanceKm;
  if (odometerStartKm === undefined || odometerEndKm === undefined) return undefined;
  return odometerEndKm > odometerStartKm ? odometerEndKm - odometerStartKm : undefined;
}

/** How finely that was counted: an odometer is read twice, m. */
export function stepOfCounterM({ tripDistanceKm, tripStepKm, odometerStepKm }: ManualReadings): number {
  const isByTrip = tripDistanceKm !== undefined && tripDistanceKm > MIN_TRIP_KM;
  return 1000 * (isByTrip ? (tripStepKm ?? DEFAULT_TRIP_STEP_KM) : 2 * (odometerStepKm ?? DEFAULT_TRIP_STEP_KM));
}

/** Contributions of a figure, multiplied by a sensitivity. */
export function scaled(figure: Figure, factor: number): Contribution[] {
  return figure.derivation.contributions.map(({ share: _share, ...part }) => ({
    ...part,
    standardUncertainty: Math.abs(part.standardUncertainty * factor),
  }));
}

/** `factor` · a ÷ b, both taken as independent. */
export function ratio(
  key: string,
  label: string,
  a: Figure,
  b: Figure,
  unit: Figure['unit'],
  formula: string,
  factor = 1,
): Figure {
  const value = (factor * a.value) / b.value;
  return makeFigure({
    key,
    label,
    value,
    unit,
    n: Math.min(a.n, b.n),
    contributions: [...scaled(a, factor / b.value), ...scaled(b, value / b.value)],
    formula,
    // A factor between units holds in the units it is of.
    substituted:
      factor === 1
        ? say`${qty(a.value, a.unit)} ÷ ${qty(b.value, b.unit)} = ${qty(value, unit)}`
        : `${factor} × ${num(a.value)} ${a.unit} ÷ ${num(b.value)} ${b.unit} = ${num(value)} ${unit}`,
    inputs: [...new Set([...a.derivation.inputs, ...b.derivation.inputs])],
  });
}
