import { fitLinearModel } from '../../statistics/index.js';
import { correlationInflation } from '../uneven-scatter.js';
import { jacobianOf, type HeatFit, type HeatModel } from './heat-model.js';

export interface HeatScatter {
  /** Standard error of any figure of the model, by the linearised fit. */
  readonly errorOf: (figure: (model: HeatModel) => number) => number;
  readonly degreesOfFreedom: number;
  /** K, of the readings about the curve. */
  readonly residualK: number;
  readonly inflation: number;
}

function vectorOf({ timeConstantsS, startsK, gains, airOffsetK }: HeatModel): number[] {
  return [...timeConstantsS.map(Math.log), ...startsK, ...gains.flat(), airOffsetK];
}
function modelOf(vector: readonly number[], { timeConstantsS: { length: nodes }, gains }: HeatModel): HeatModel {
  return {
    timeConstantsS: vector.slice(0, nodes).map(Math.exp),
    startsK: vector.slice(nodes, 2 * nodes),
    gains: gains.map((_, j) => vector.slice((2 + j) * nodes, (3 + j) * nodes)),
    airOffsetK: vector.at(-1)!,
  };
}

/**
 * Covariance of all parameters of a fit, time constants included, widened by the residuals' autocorrelation.
 * Undefined where the readings do not tell a parameter.
 */
export function scatterOf({ readings, model, residuals, ...fit }: HeatFit): HeatScatter | undefined {
  const columns = jacobianOf({ readings, model, residuals, ...fit });
  const vector = vectorOf(model);
  const p = vector.length;
  const n = residuals.length;
  const rows = readings.timeS.map((_, k) => columns.map((column) => column[k]!));
  rows.push(columns.map((_, i) => (i === p - 1 ? Math.sqrt(readings.airWeight) : 0)));
  const linear = fitLinearModel(rows, [...residuals, 0]);
  if (!linear.ok) return undefined;
  const { unscaledCovariance } = linear.value;
  const inflation = correlationInflation(residuals);
  const variance = fit.squares / (n - p);
  return {
    residualK: Math.sqrt(variance),
    inflation,
    degreesOfFreedom: Math.max(3, Math.round(n / inflation ** 2 - p)),
    errorOf: (figure) => {
      const gradient = vector.map((value, i) => {
        const h = 0.05 * Math.sqrt(variance * unscaledCovariance[i * p + i]!) * inflation;
        if (!(h > 0)) return 0;
        const at = (to: number): number => figure(modelOf(vector.with(i, to), model));
        return (at(value + h) - at(value - h)) / (2 * h);
      });
      let sum = 0;
      for (let i = 0; i < p; i++)
        for (let j = 0; j < p; j++) sum += gradient[i]! * gradient[j]! * unscaledCovariance[i * p + j]!;
      return Math.sqrt(Math.max(0, sum) * variance) * inflation;
    },
  };
}
