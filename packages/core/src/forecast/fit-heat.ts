import { fitWithPriors, neighbourInflation } from '../numeric/index.js';
import type { PartFit } from './fit-motion.js';
import { warmNodes, type HeatState } from './heat-nodes.js';
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

const EVERY_S = 15;
/** A temperature is not believed better than this, K: nodes are a picture. */
const NODE_K = 0.5;
const STEP_S = 3;

/**
 * Heat capacities and conductances of the motor from its temperature on rides and while it cools, with the losses that its pull implies.
 * Undefined where no ride has the temperature. Each ride begins at what its first half minute shows; its body at the same.
 */
export function fitHeat(records: readonly RideRecord[], priors: Priors, losses: DriveLosses): PartFit | undefined {
  const useful = records.flatMap((record) => {
    const first = firstOf(record.motorC);
    return first === undefined ? [] : [{ record, first, losses: lossesOf(record, losses) }];
  });
  if (useful.length === 0) return undefined;
  const temperatures = useful.flatMap(({ record }, ride) => {
    const found: { ride: number; step: number; meanC: number }[] = [];
    for (let from = 0; from + EVERY_S <= record.count; from += EVERY_S) {
      const meanC = meanBetween(record.motorC, from, from + EVERY_S);
      if (meanC !== undefined) found.push({ ride, step: Math.round((from + EVERY_S / 2) / STEP_S), meanC });
    }
    return found;
  });
  const q = HEAT_PARAMETERS.length;
  const fit = fitWithPriors({
    priorMean: HEAT_PARAMETERS.map((name) => toScale(name, priors[name].value)),
    priorSd: HEAT_PARAMETERS.map((name) => priors[name].sd),
    residualCount: temperatures.length,
    correlation: neighbourInflation,
    residuals: (x, into) => {
      const heat = Object.fromEntries(HEAT_PARAMETERS.map((name, j) => [name, fromScale(name, x[j]!)])) as Record<
        (typeof HEAT_PARAMETERS)[number],
        number
      >;
      let i = 0;
      useful.forEach(({ record, first, losses: steps }, ride) => {
        const state: HeatState = { sensorC: first, bodyC: first };
        for (let step = 0; step < steps.copperW.length; step++) {
          warmNodes(
            state,
            heat,
            steps.copperW[step]!,
            steps.ironW[step]!,
            steps.speedMps[step]!,
            record.facts.airTemperatureC,
            STEP_S,
          );
          while (i < temperatures.length && temperatures[i]!.ride === ride && temperatures[i]!.step <= step) {
            into[i] = (temperatures[i]!.meanC - state.sensorC) / NODE_K;
            i++;
          }
        }
        for (; i < temperatures.length && temperatures[i]!.ride === ride; i++)
          into[i] = (temperatures[i]!.meanC - state.sensorC) / NODE_K;
      });
    },
  });
  return {
    names: HEAT_PARAMETERS,
    estimate: Array.from(fit.estimate.slice(0, q)),
    covariance: Array.from(fit.covariance),
    used: temperatures.length,
  };
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

function firstOf(values: Float64Array): number | undefined {
  for (let from = 0; from < values.length; from += 10) {
    const mean = meanBetween(values, from, Math.min(values.length, from + 10));
    if (mean !== undefined) return mean;
  }
  return undefined;
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
