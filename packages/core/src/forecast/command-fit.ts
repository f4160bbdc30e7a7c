/**
 * What an order for help (throttle, level: 0–1) is an order for: a share of the battery current, of the pull, or of the voltage; or a
 * multiple of what the rider gives, by a sensor of the pedals' torque.
 */
export type CommandLaw = 'current' | 'force' | 'voltage' | 'rider';

export interface Learnt {
  readonly value: number;
  /** Of the logarithm. */
  readonly sd: number;
  readonly from: 'data' | 'prior';
  /** Seen to be no lower than this. */
  readonly atLeast?: number;
}
export interface CommandFit {
  readonly law: CommandLaw;
  readonly fullCurrent: Learnt;
  readonly fullForce: Learnt;
  readonly noLoadSpeed: Learnt;
  /** Where help follows the rider: the motor's power at the tyre over the rider's at the most help that was ridden. */
  readonly riderRatio?: Learnt;
  /** A usual moment of the rides that taught the order: what was drawn then was seen, whatever the losses are. */
  readonly seenAt?: { readonly demand: number; readonly speedMps: number; readonly powerW: number };
  /** Share of full help by the display's level, seen where the bike was not yet at its end of help. */
  readonly levels: readonly {
    readonly level: number;
    readonly demand: number;
    readonly sd: number;
    readonly seconds: number;
  }[];
  readonly highestDemand: number | null;
}

/** A current this near to its limit is held by the limit. */
export const LIMIT_SHARE = 0.95;
