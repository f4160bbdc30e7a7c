import { fitWithPriors, neighbourInflation } from '../numeric/index.js';
import type { HeatSeen, PartFit } from './part-fit.js';
import { atEnd } from './motion-blocks.js';
import { warmController, warmNodes, type HeatState } from './heat-nodes.js';
import { copperAt, pullOfPower, type DriveLosses } from './motor-law.js';
import { fromScale, toScale, type ParameterName, type Priors } from './parameters.js';
import type { RideRecord } from './ride-record.js';

export const HEAT_PARAMETERS = [
  'sensorHeat',
  'bodyHeat',
  'sensorToBody',
  'toStillAir',
  'toMovingAir',
] as const satisfies readonly ParameterName[];

/** How much more heat the same power leaves in the winding with other losses than those the heat was learned with. */
export function heatFactor(
  seen: HeatSeen,
  { copperLoss, idlePower }: Pick<HeatSeen, 'copperLoss' | 'idlePower'>,
): number {
  const heat = (k: number, idle: number): number => k * pullOfPower(seen.powerW, seen.speedMps, idle, k) ** 2;
  const before = heat(seen.copperLoss, seen.idlePower);
  return before > 0 ? heat(copperLoss, idlePower) / before : 1;
}

/** An odd number of steps, so that its middle is the middle of one. */
const EVERY_S = 15;
/** A temperature is not believed better than this, K: nodes are a picture. */
const NODE_K = 0.5;
const STEP_S = 3;
const START_S = 10;

/**
 * Heat capacities and conductances of the motor from its temperature on rides and while it cools, with the losses that its pull implies.
 * Undefined where no ride has the temperature. Each ride begins at what its first half minute shows; its body at the same.
 */
export function fitHeat(
  records: readonly RideRecord[],
  priors: Priors,
  losses: DriveLosses,
): (PartFit & { readonly heatSeen: HeatSeen }) | undefined {
  const useful = records.flatMap((record) => {
    const first = firstOf(record.motorC);
    return first === undefined ? [] : [{ record, first, losses: lossesOf(record, losses) }];
  });
  if (useful.length === 0) return undefined;
  const temperatures = useful.map(({ record }) => meansEvery(record.motorC));
  const residualCount = temperatures.reduce((sum, of) => sum + of.length, 0);
  const q = HEAT_PARAMETERS.length;
  const fit = fitWithPriors({
    priorMean: HEAT_PARAMETERS.map((name) => toScale(name, priors[name].value)),
    priorSd: HEAT_PARAMETERS.map((name) => priors[name].sd),
    residualCount,
    correlation: neighbourInflation,
    residuals: (x, into) => {
      const heat = onScale(HEAT_PARAMETERS, x);
      let i = 0;
      useful.forEach(({ record, first, losses: steps }, ride) => {
        const state: HeatState = { sensorC: first, bodyC: first };
        const { airTemperatureC } = record.facts;
        i = compared(into, i, temperatures[ride]!, steps.speedMps.length, first, (step) => {
          const [copperW, ironW, speedMps] = [steps.copperW[step]!, steps.ironW[step]!, steps.speedMps[step]!];
          warmNodes(state, heat, copperW, ironW, speedMps, airTemperatureC, STEP_S);
          return state.sensorC;
        });
      });
    },
  });
  return {
    names: HEAT_PARAMETERS,
    estimate: Array.from(fit.estimate.slice(0, q)),
    covariance: Array.from(fit.covariance),
    used: residualCount,
    heatSeen: usuallySeen(
      useful.map(({ record }) => record),
      losses,
    ),
  };
}

/** Where most of the heat comes from: power and speed by the square of the power. */
function usuallySeen(records: readonly RideRecord[], { copperLoss, idlePower }: DriveLosses): HeatSeen {
  let [weight, speed, power] = [0, 0, 0];
  for (const { powerW, speedMps, count } of records)
    for (let k = 0; k < count; k++) {
      const [w, v] = [powerW[k]!, speedMps[k]!];
      if (!(w > 0) || !(v > 0.5)) continue;
      weight += w * w;
      speed += w * w * v;
      power += w * w * w;
    }
  return weight > 0
    ? { speedMps: speed / weight, powerW: power / weight, copperLoss, idlePower }
    : { speedMps: 5, powerW: 0, copperLoss, idlePower };
}

function lossesOf(
  { powerW, speedMps, motorC, count }: RideRecord,
  losses: DriveLosses,
): Record<'copperW' | 'ironW' | 'speedMps', Float64Array> {
  const steps = Math.ceil(count / STEP_S);
  const out = { copperW: new Float64Array(steps), ironW: new Float64Array(steps), speedMps: new Float64Array(steps) };
  for (let step = 0; step < steps; step++) {
    const [from, to] = [step * STEP_S, Math.min(count, (step + 1) * STEP_S)];
    for (let k = from; k < to; k++) {
      const v = Number.isNaN(speedMps[k]!) ? 0 : speedMps[k]!;
      const power = Number.isNaN(powerW[k]!) ? 0 : powerW[k]!;
      const copper = copperAt(losses, v, motorC[k]!);
      const pull = pullOfPower(power, v, losses.idlePower, copper);
      out.copperW[step]! += (copper * pull * pull) / (to - from);
      out.ironW[step]! += (pull > 0 ? Math.min(pull, losses.ironDrag) * v : 0) / (to - from);
      out.speedMps[step]! += v / (to - from);
    }
  }
  return out;
}

/**
 * What a motor or a case was at the beginning, by the straight line through its first ten seconds: their mean lies already above it, and a
 * rise that is asked to start there is learned too small. Undefined where nothing was logged.
 */
function firstOf(values: Float64Array): number | undefined {
  const begin = values.findIndex((value) => !Number.isNaN(value));
  return begin < 0 ? undefined : atEnd(values, begin, 1, values.length, START_S);
}

function meanBetween(values: Float64Array, from: number, to: number): number | undefined {
  let [sum, n] = [0, 0];
  for (let k = from; k < to; k++) {
    if (Number.isNaN(values[k]!)) continue;
    sum += values[k]!;
    n++;
  }
  return n > 0 ? sum / n : undefined;
}

export const CONTROLLER_PARAMETERS = [
  'controllerByPull',
  'controllerByPower',
  'controllerSeconds',
  'controllerWind',
] as const satisfies readonly ParameterName[];

/** How a controller's case warms, from its temperature on rides. Undefined where no ride has it. */
export function fitController(
  records: readonly RideRecord[],
  priors: Priors,
  losses: DriveLosses,
): PartFit | undefined {
  const useful = records.flatMap((record) => {
    const first = firstOf(record.controllerC);
    return first === undefined ? [] : [{ record, first, drive: drivenIn(record, losses) }];
  });
  const temperatures = useful.map(({ record }) => meansEvery(record.controllerC));
  const residualCount = temperatures.reduce((sum, of) => sum + of.length, 0);
  if (residualCount === 0) return undefined;
  const q = CONTROLLER_PARAMETERS.length;
  const fit = fitWithPriors({
    priorMean: CONTROLLER_PARAMETERS.map((name) => toScale(name, priors[name].value)),
    priorSd: CONTROLLER_PARAMETERS.map((name) => priors[name].sd),
    residualCount,
    correlation: neighbourInflation,
    residuals: (x, into) => {
      const heat = onScale(CONTROLLER_PARAMETERS, x);
      let i = 0;
      useful.forEach(({ record, first, drive: { pullN, powerW, speedMps } }, ride) => {
        let caseC = first;
        const { airTemperatureC } = record.facts;
        i = compared(into, i, temperatures[ride]!, speedMps.length, first, (step) => {
          caseC = warmController(caseC, heat, pullN[step]!, powerW[step]!, speedMps[step]!, airTemperatureC, STEP_S);
          return caseC;
        });
      });
    },
  });
  return {
    names: CONTROLLER_PARAMETERS,
    estimate: Array.from(fit.estimate.slice(0, q)),
    covariance: Array.from(fit.covariance),
    used: residualCount,
  };
}

/** Root mean square of the pull, N, and means of power, W, and speed, m/s, in steps. */
function drivenIn(
  { powerW, speedMps, motorC, count }: RideRecord,
  losses: DriveLosses,
): Record<'powerW' | 'pullN' | 'speedMps', Float64Array> {
  const steps = Math.ceil(count / STEP_S);
  const out = { pullN: new Float64Array(steps), powerW: new Float64Array(steps), speedMps: new Float64Array(steps) };
  for (let step = 0; step < steps; step++) {
    const [from, to] = [step * STEP_S, Math.min(count, (step + 1) * STEP_S)];
    for (let k = from; k < to; k++) {
      const v = speedMps[k]! || 0;
      const power = powerW[k]! || 0;
      const pull = pullOfPower(power, v, losses.idlePower, copperAt(losses, v, motorC[k]!));
      out.pullN[step]! += (pull * pull) / (to - from);
      out.powerW[step]! += Math.abs(power) / (to - from);
      out.speedMps[step]! += v / (to - from);
    }
    out.pullN[step] = Math.sqrt(out.pullN[step]!);
  }
  return out;
}

interface MeanAt {
  /** The middle of the mean lies in the middle of this step. */
  readonly step: number;
  readonly meanC: number;
}

function meansEvery(values: Float64Array): MeanAt[] {
  const found: MeanAt[] = [];
  for (let from = 0; from + EVERY_S <= values.length; from += EVERY_S) {
    const meanC = meanBetween(values, from, from + EVERY_S);
    if (meanC !== undefined) found.push({ step: Math.floor((from + EVERY_S / 2) / STEP_S), meanC });
  }
  return found;
}

/** Residuals of a ride's means against a model that warms step by step, from `i` on; gives where the next begin. */
function compared(
  into: Float64Array,
  i: number,
  means: readonly MeanAt[],
  steps: number,
  startC: number,
  warm: (step: number) => number,
): number {
  let before = startC;
  let next = 0;
  for (let step = 0; step < steps; step++) {
    const after = warm(step);
    while (next < means.length && means[next]!.step <= step)
      into[i++] = (means[next++]!.meanC - (before + after) / 2) / NODE_K;
    before = after;
  }
  while (next < means.length) into[i++] = (means[next++]!.meanC - before) / NODE_K;
  return i;
}

function onScale<N extends ParameterName>(names: readonly N[], x: Float64Array): Record<N, number> {
  return Object.fromEntries(names.map((name, j) => [name, fromScale(name, x[j]!)])) as Record<N, number>;
}
