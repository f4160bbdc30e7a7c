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

/** Mean loads of a test at 25 °C, in the order of the model's, which of them grow with copper's resistance, and how they creep. */
export interface BareLoads {
  readonly values: readonly number[];
  readonly isCopper: readonly boolean[];
  /** °C, mean over the riding. */
  readonly meanC: number;
  readonly creepPerK: readonly number[];
}
/** The loads with the motor at a temperature, °C. */
export function loadsAt({ values, isCopper, meanC, creepPerK }: BareLoads, celsius: number): number[] {
  return values.map((value, j) => {
    const crept = value * Math.max(0, 1 + creepPerK[j]! * (celsius - meanC));
    return isCopper[j] ? crept * (1 + COPPER_PER_K * (celsius - COPPER_AT_C)) : crept;
  });
}
/** With less than this left of one, copper warms faster than the motor sheds: the rise has no end. */
const LEAST_MARGIN = 0.05;
const MAX_STEPS = 60;
const SETTLED_K = 1e-6;
/**
 * K above the air once a load has settled, the motor as warm as it then is: s = R·L(T_air + s), by Newton's steps.
 * Undefined where copper's own warming runs away.
 */
export function settledHot(model: HeatModel, bare: BareLoads, airC: number): number | undefined {
  const towards = (s: number): number => settledRise(model, loadsAt(bare, airC + model.airOffsetK + s));
  let s = towards(0);
  for (let k = 0; k < MAX_STEPS; k++) {
    const here = towards(s);
    const margin = 1 - (towards(s + 0.5) - towards(s - 0.5));
    if (!(margin > LEAST_MARGIN)) return undefined;
    const step = (here - s) / margin;
    s += step;
    if (Math.abs(step) < SETTLED_K) return s;
  }
  return undefined;
}

/** Time until half of a settled rise is left, s; where no load was seen, half of the rise that the log began with. */
export function halfLifeOf(model: HeatModel, loads: readonly number[]): number {
  const parts = loads.length > 0 ? settledOf(model, loads) : model.startsK;
  const left = (t: number): number =>
    sum(parts.map((part, node) => part * Math.exp(-t / model.timeConstantsS[node]!))) / sum(parts) - 0.5;
  return findRoot(left, 0, LONG_ENOUGH * slowestOf(model));
}

/** Steps of a warming to each quickest time constant, and in all. */
const STEPS_PER_TIME_CONSTANT = 50;
const MOST_STEPS = 50_000;
/**
 * Time from the air to a rise under a load that creeps and whose copper warms on the way, s; NaN where it is never reached.
 * Method: each node solved exactly over short steps of an even load, the load taken anew at the temperature half a step on.
 */
export function timeToRise(riseK: number, model: HeatModel, bare: BareLoads, airC: number): number {
  const { timeConstantsS, airOffsetK } = model;
  const settled = settledHot(model, bare, airC);
  if (!(riseK > 0) || (settled !== undefined && settled <= riseK)) return NaN;
  const step = Math.min(...timeConstantsS) / STEPS_PER_TIME_CONSTANT;
  const kept = timeConstantsS.map((tau) => Math.exp(-step / tau));
  let nodes = timeConstantsS.map(() => 0);
  let pace = 0;
  for (let k = 0; k < MOST_STEPS; k++) {
    const before = sum(nodes);
    const towards = settledOf(model, loadsAt(bare, airC + airOffsetK + before + (pace * step) / 2));
    const next = nodes.map((rise, node) => towards[node]! + (rise - towards[node]!) * kept[node]!);
    const after = sum(next);
    if (after >= riseK) return step * (k + (riseK - before) / (after - before));
    pace = (after - before) / step;
    nodes = next;
  }
  return NaN;
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
