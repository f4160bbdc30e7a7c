import type { Calibration } from './calibrate.js';
import { cellVoltage, type FixedOfBike, type Parameters } from './parameters.js';
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
  { key: 'packChange', label: 'the second pack takes over after', unit: 'km' },
  { key: 'lowestVoltage', label: 'lowest voltage', unit: 'V' },
  { key: 'motorTemperaturePeak', label: 'highest motor temperature', unit: '°C' },
  { key: 'controllerTemperaturePeak', label: 'highest controller temperature', unit: '°C' },
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
 * Ranges: ways like this one on and on. The energy in the packs from the start to the reserve, or to the charge at which the highest current
 * pulls the voltage to the cut-off, over what this way took, each as ∫ open-circuit voltage dq, so that the falling voltage counts.
 */
export function figuresOfPath(
  outcome: PathOutcome,
  parameters: Parameters,
  context: PathContext,
): Record<FigureKey, number> {
  const { scenario, isPartial = false } = context;
  const arrived = outcome.endedBy === 'finish';
  const whole = (value: number): number => (arrived || isPartial ? value : NaN);
  const km = outcome.distanceM / 1000;
  const energyWh = outcome.energyOutJ / 3600;
  const capacityAh = parameters.capacity + (scenario.secondPack?.capacityAh ?? 0);
  const endShare = scenario.startShare - outcome.usedAh / capacityAh;
  const reach = reachOf(outcome, parameters, context);
  const until = (reserveShare: number): number =>
    outcome.openJ > 0 ? (km * reach.openJ(reserveShare)) / outcome.openJ : NaN;
  return {
    time: arrived ? outcome.timeS : NaN,
    meanSpeed: whole((3.6 * outcome.distanceM) / outcome.timeS),
    minSpeed: 3.6 * outcome.lowestMps,
    energyOut: whole(energyWh),
    netConsumption: whole((energyWh - outcome.regainedJ / 3600) / km),
    chargeLeftShare: whole(Math.max(0, endShare)),
    rangeWithReserve: until(scenario.reserveShare ?? USUAL_RESERVE),
    rangeToCutoff: until(0),
    packChange: outcome.changedAtM / 1000,
    lowestVoltage: outcome.lowestV,
    motorTemperaturePeak: outcome.peakMotorC,
    controllerTemperaturePeak: outcome.peakControllerC,
    secondsToLimit: outcome.limitAtS,
    riderShare: outcome.riderJ / (outcome.riderJ + outcome.driveJ),
  };
}

/** What the packs still give of their charge, down to a share of all that is kept back; a pack is empty where it cuts off under this way's load. */
export interface Reach {
  /** Ah from the start on. */
  readonly usableAh: (reserveShare: number) => number;
  /** The same at the cells' voltage at rest, J. */
  readonly openJ: (reserveShare: number) => number;
}

export function reachOf(
  outcome: Pick<PathOutcome, 'sagV'>,
  parameters: Parameters,
  { scenario: { startShare, secondPack }, calibration: { fixed } }: Pick<PathContext, 'calibration' | 'scenario'>,
): Reach {
  const secondAh = secondPack?.capacityAh ?? 0;
  const wholeAh = parameters.capacity + secondAh;
  const emptyAt = (resists: number): number => shareAtCutoff(outcome.sagV * resists, parameters, fixed);
  const [firstAh, lastAh] = secondPack?.use === 'in turn' ? [parameters.capacity, secondAh] : [0, wholeAh];
  const firstEmpty = emptyAt(1);
  const lastEmpty = firstAh > 0 ? emptyAt(firstAh / lastAh) : firstEmpty;
  // What is kept back is kept in the last pack; what the first cannot give counts as kept, and more than the last holds stays in the first.
  const ends = (reserveShare: number): readonly { capacityAh: number; end: number }[] => {
    const keptAh = Math.max(0, reserveShare * wholeAh - firstAh * firstEmpty);
    const beyondAh = Math.max(0, keptAh - lastAh * startShare);
    return [
      { capacityAh: firstAh, end: firstAh > 0 ? firstEmpty + beyondAh / firstAh : 0 },
      { capacityAh: lastAh, end: Math.max(lastEmpty, keptAh / lastAh) },
    ].map(({ capacityAh, end }) => ({ capacityAh, end: Math.min(startShare, end) }));
  };
  const sum = (reserveShare: number, of: (end: number) => number): number =>
    ends(reserveShare).reduce((all, { capacityAh, end }) => all + capacityAh * of(end), 0);
  return {
    usableAh: (reserveShare) => sum(reserveShare, (end) => startShare - end),
    openJ: (reserveShare) =>
      3600 * fixed.seriesCells * sum(reserveShare, (end) => voltsBetween(fixed, parameters, end, startShare)),
  };
}

/** ∫ open-circuit cell voltage over the charge between two states, V. */
function voltsBetween(fixed: FixedOfBike, { cellOffset, cellSlope }: Parameters, low: number, high: number): number {
  const steps = 12;
  let sum = 0;
  for (let k = 0; k < steps; k++)
    sum += cellVoltage(fixed, low + ((high - low) * (k + 0.5)) / steps, cellOffset, cellSlope);
  return (sum * (high - low)) / steps;
}

/** Charge at which a sag in V pulls the pack to its cut-off; 0 where it never does. */
function shareAtCutoff(sagV: number, { cellOffset, cellSlope }: Parameters, fixed: FixedOfBike): number {
  const cutCellV = (fixed.cutoffV + sagV) / fixed.seriesCells;
  const voltsAt = (share: number): number => cellVoltage(fixed, share, cellOffset, cellSlope);
  if (voltsAt(0) >= cutCellV) return 0;
  let [low, high] = [0, 1];
  for (let k = 0; k < 30; k++) {
    const middle = (low + high) / 2;
    if (voltsAt(middle) < cutCellV) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
