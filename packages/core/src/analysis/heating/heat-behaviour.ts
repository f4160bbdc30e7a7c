import { findRoot } from '../../numeric/index.js';
import type { HeatModel, HeatReadings } from './heat-model.js';
import { COPPER_AT_C, COPPER_PER_K } from './heat-points.js';

/** In slowest time constants: a rise closer than this to settled never gets there. */
const LONG_ENOUGH = 40;

const sum = (values: readonly number[]): number => values.reduce((total, value) => total + value, 0);

/** Of the slowest node, which rules long loads and cooling, s. */
export const slowestOf = ({ timeConstantsS }: HeatModel): number => timeConstantsS.at(-1)!;

/** The slowest node slower by a factor; it then settles higher by the same. */
export function slowed(model: HeatModel, factor: number): HeatModel {
  const last = model.timeConstantsS.length - 1;
  return { ...model, timeConstantsS: model.timeConstantsS.map((tau, k) => (k === last ? tau * factor : tau)) };
}
/** All loads stronger by a factor. */
export function driven(model: HeatModel, factor: number): HeatModel {
  return { ...model, gains: model.gains.map((gain) => gain.map((value) => value * factor)) };
}

/** K above the air once a steady load has settled, of each node. `loads`: one value of each of the model's loads. */
export function settledOf({ gains, timeConstantsS }: HeatModel, loads: readonly number[]): number[] {
  return timeConstantsS.map((tau, node) => tau * sum(gains.map((gain, j) => gain[node]! * loads[j]!)));
}
export function settledRise(model: HeatModel, loads: readonly number[]): number {
  return sum(settledOf(model, loads));
}

/** Loads of a test at 25 °C, in the order of the model's, and which of them grow with copper's resistance. */
export interface BareLoads {
  readonly values: readonly number[];
  readonly isCopper: readonly boolean[];
}
/** The loads with the copper at a temperature, °C. */
export function loadsAt({ values, isCopper }: BareLoads, celsius: number): number[] {
  return values.map((value, j) => (isCopper[j] ? value * (1 + COPPER_PER_K * (celsius - COPPER_AT_C)) : value));
}
/** With less than this left of one, copper warms faster than the motor sheds: the rise has no end. */
const LEAST_MARGIN = 0.05;
/**
 * K above the air once a load has settled, its copper as warm as it then is: s = R·L(T) solved for s, which is linear in it.
 * Undefined where copper's own warming runs away.
 */
export function settledHot(model: HeatModel, bare: BareLoads, airC: number): number | undefined {
  const alone = (isCopper: boolean): number =>
    settledRise(
      model,
      bare.values.map((value, j) => (bare.isCopper[j] === isCopper ? value : 0)),
    );
  const [copper, other] = [alone(true), alone(false)];
  const margin = 1 - COPPER_PER_K * copper;
  if (!(margin > LEAST_MARGIN)) return undefined;
  return (copper * (1 + COPPER_PER_K * (airC + model.airOffsetK - COPPER_AT_C)) + other) / margin;
}

/** Time until half of a settled rise is left, s; where no load was seen, half of the rise that the log began with. */
export function halfLifeOf(model: HeatModel, loads: readonly number[]): number {
  const parts = loads.length > 0 ? settledOf(model, loads) : model.startsK;
  const left = (t: number): number =>
    sum(parts.map((part, node) => part * Math.exp(-t / model.timeConstantsS[node]!))) / sum(parts) - 0.5;
  return findRoot(left, 0, LONG_ENOUGH * slowestOf(model));
}

/** Time from the air to a rise under a steady load, s; NaN where it is never reached. */
export function timeToRise(riseK: number, model: HeatModel, loads: readonly number[]): number {
  const parts = settledOf(model, loads);
  if (!(riseK > 0 && sum(parts) > riseK)) return NaN;
  const over = (t: number): number =>
    sum(parts.map((part, node) => part * (1 - Math.exp(-t / model.timeConstantsS[node]!)))) - riseK;
  const longest = LONG_ENOUGH * slowestOf(model);
  return over(longest) > 0 ? findRoot(over, 0, longest) : NaN;
}

/** Share s of the loads whose settled rise is the allowed one: what follows power grows with s, what follows a square with s². */
export function shareOfLoad(
  allowedK: number,
  model: HeatModel,
  { loads }: HeatReadings,
  meanLoads: readonly number[],
): number {
  let [linear, square] = [0, 0];
  loads.forEach(({ name }, j) => {
    const alone = meanLoads.map((load, k) => (k === j ? load : 0));
    if (name === 'power') linear += settledRise(model, alone);
    else square += settledRise(model, alone);
  });
  if (square === 0) return allowedK / linear;
  return (-linear + Math.sqrt(linear ** 2 + 4 * square * allowedK)) / (2 * square);
}
