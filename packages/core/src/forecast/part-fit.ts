import type { ParameterName } from './parameters.js';

/** A usual moment of what warmed a motor: the power was logged, the heat in it follows from the losses. */
export interface HeatSeen {
  readonly speedMps: number;
  readonly powerW: number;
  readonly copperLoss: number;
  readonly idlePower: number;
}

/** Some parameters learned together, on their scale of learning. */
export interface PartFit {
  readonly names: readonly ParameterName[];
  readonly estimate: readonly number[];
  /** Row-major. */
  readonly covariance: readonly number[];
  /** How much the data had to say: blocks, pairs or temperatures. */
  readonly used: number;
  /** Of a part with one parameter: seen to be no lower, on its own scale. */
  readonly atLeast?: number;
  /** Of the heat of the motor: what it was learned from. */
  readonly heatSeen?: HeatSeen;
}
