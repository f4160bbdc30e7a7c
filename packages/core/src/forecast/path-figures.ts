import type { Calibration } from './calibrate.js';
import { cellVoltage, type Parameters } from './parameters.js';
import type { PathOutcome } from './path.js';
import type { Scenario } from './scenario.js';
import { USUAL_RESERVE } from './set-out.js';

export const FORECAST_FIGURES = [
  { key: 'time', label: 'time', unit: 's' },
  { key: 'meanSpeed', label: 'mean speed', unit: 'km/h' },
  { key: 'minSpeed', label: 'lowest speed once under way', unit: 'km/h' },
  { key: 'energyOut', label: 'energy out of the battery', unit: 'Wh' },
  { key: 'netConsumption', label: 'consumption', unit: 'Wh/km' },
  { key: 'chargeLeftShare', label: 'charge left', unit: '1' },
  { key: 'rangeWithReserve', label: 'range until the reserve', unit: 'km' },
  { key: 'rangeToCutoff', label: 'range until the battery cuts off', unit: 'km' },
  { key: 'lowestVoltage', label: 'lowest voltage', unit: 'V' },
  { key: 'motorTemperaturePeak', label: 'highest motor temperature', unit: '°C' },
  { key: 'secondsToLimit', label: 'time until the motor’s limit', unit: 's' },
  { key: 'riderShare', label: 'rider’s share of the work', unit: '1' },
] as const;
/** Of the way there and home again, by one path each way. */
export const RETURN_FIGURE = { key: 'farthestReturn', label: 'farthest point to come back from', unit: 'km' } as const;
export type FigureKey = (typeof FORECAST_FIGURES)[number]['key'];

export interface PathContext {
  readonly calibration: Calibration;
  readonly scenario: Scenario;
  /** The most probable ride does not arrive: figures are until it ends, whoever it is. */
  readonly isPartial?: boolean;
}

/**
 * Figures of one path; NaN for what it does not have: a ride that ends early has no time, and no energy for the whole way.
 *
 * Ranges: ways like this one on and on. The energy in the pack from the start to the reserve, or to the charge at which the highest current
 * pulls the voltage to the cut-off, over what this way took, each as ∫ open-circuit voltage dq, so that the falling voltage counts.
 */
export function figuresOfPath(
  outcome: PathOutcome,
  parameters: Parameters,
  context: PathContext,
): Record<FigureKey, number> {
  const { scenario, calibration, isPartial = false } = context;
  const arrived = outcome.endedBy === 'finish';
  const whole = (value: number): number => (arrived || isPartial ? value : NaN);
  const km = outcome.distanceM / 1000;
  const energyWh = outcome.energyOutJ / 3600;
  const capacityAh = parameters.capacity + (scenario.secondPack?.capacityAh ?? 0);
  const endShare = scenario.startShare - outcome.usedAh / capacityAh;
  const used = energyBetween(calibration, parameters, endShare, scenario.startShare);
  const until = (share: number): number =>
    used > 0 ? (km * energyBetween(calibration, parameters, share, scenario.startShare)) / used : NaN;
  return {
    time: arrived ? outcome.timeS : NaN,
    meanSpeed: whole((3.6 * outcome.distanceM) / outcome.timeS),
    minSpeed: 3.6 * outcome.lowestMps,
    energyOut: whole(energyWh),
    netConsumption: whole(energyWh / km),
    chargeLeftShare: whole(Math.max(0, endShare)),
    rangeWithReserve: until(scenario.reserveShare ?? USUAL_RESERVE),
    rangeToCutoff: until(shareAtCutoff(outcome, parameters, context)),
    lowestVoltage: outcome.lowestV,
    motorTemperaturePeak: outcome.peakMotorC,
    secondsToLimit: outcome.limitAtS,
    riderShare: outcome.riderJ / (outcome.riderJ + outcome.driveJ),
  };
}

/** ∫ open-circuit cell voltage over the charge between two states, V; negative where the wanted state lies above the start. */
function energyBetween(
  { fixed }: Calibration,
  { cellOffset, cellSlope }: Parameters,
  low: number,
  high: number,
): number {
  const steps = 12;
  let sum = 0;
  for (let k = 0; k < steps; k++)
    sum += cellVoltage(fixed, low + ((high - low) * (k + 0.5)) / steps, cellOffset, cellSlope);
  return (sum * (high - low)) / steps;
}

/** Charge at which the highest current of the ride pulls the pack to its cut-off; 0 where it never does. */
function shareAtCutoff(outcome: PathOutcome, parameters: Parameters, { calibration: { fixed } }: PathContext): number {
  const sagV = outcome.sagV;
  const cutCellV = (fixed.cutoffV + sagV) / fixed.seriesCells;
  const voltsAt = (share: number): number => cellVoltage(fixed, share, parameters.cellOffset, parameters.cellSlope);
  if (voltsAt(0) >= cutCellV) return 0;
  let [low, high] = [0, 1];
  for (let k = 0; k < 30; k++) {
    const middle = (low + high) / 2;
    if (voltsAt(middle) < cutCellV) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
