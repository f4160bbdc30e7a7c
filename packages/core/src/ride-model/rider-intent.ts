import type { ControllerModel, RiderModel, ScriptStep, Stop } from './parameters.js';

/** What the rider does in a step, and what the controller makes of it. */
export interface RiderIntent {
  /** What the script asks for; none where the rider holds a target speed. */
  readonly order: ScriptStep | undefined;
  readonly isStopping: boolean;
  readonly isStanding: boolean;
  readonly wantsSpeed: boolean;
  /** Help goes on after pedalling ended, or after the brake was pulled. */
  readonly runsOn: boolean;
}

/** Walks through the script, the stops and the clocks of pedalling and braking, step by step. */
export class RiderClock {
  private scripted = 0;
  private sinceStopS = Infinity;
  private sinceBrakeS = 0;
  private dwellS = 0;
  private stopIndex = 0;
  private readonly stops: readonly Stop[];

  constructor(
    private readonly rider: RiderModel,
    private readonly controller: ControllerModel,
    stops: readonly Stop[],
    private readonly script: readonly ScriptStep[] | undefined,
    private readonly stepS: number,
  ) {
    this.stops = [...stops].sort((a, b) => a.distanceM - b.distanceM);
  }

  /** Units: s, m from the start of the lap, m/s. */
  intentAt(timeS: number, onLapM: number, speedMps: number): RiderIntent {
    const { script, rider, controller, stepS } = this;
    const stop = this.stops[this.stopIndex];
    const toStopM = stop ? stop.distanceM - onLapM : Infinity;
    while (script && this.scripted < script.length - 1 && script[this.scripted + 1]!.fromS <= timeS + 1e-9)
      this.scripted++;
    const order = script?.[this.scripted];
    const isStopping = order
      ? order.brakes
      : toStopM <= (speedMps * speedMps) / (2 * rider.brakingMps2) + speedMps * stepS;
    const isStanding = this.dwellS > 0;
    const wantsSpeed = order ? order.pedals && !order.brakes : !isStopping && !isStanding;
    this.sinceStopS = wantsSpeed ? 0 : this.sinceStopS + stepS;
    this.sinceBrakeS = isStopping ? this.sinceBrakeS + stepS : 0;
    const runsOn = isStopping
      ? this.sinceBrakeS <= (controller.brakeCutoffS ?? 0) && this.sinceStopS <= this.sinceBrakeS + stepS
      : this.sinceStopS <= (controller.runOnS ?? 0);
    return { order, isStopping, isStanding, wantsSpeed, runsOn };
  }

  /** After the step: the dwell goes on, or begins where the bike came to rest at a stop. */
  endStep({ isStanding, isStopping }: RiderIntent, speedMps: number): void {
    const stop = this.stops[this.stopIndex];
    if (isStanding) {
      this.dwellS -= this.stepS;
      if (this.dwellS <= 0) this.dwellS = 0;
    } else if (stop && isStopping && speedMps < 0.05) {
      this.dwellS = stop.dwellS;
      this.stopIndex++;
    }
  }

  beginLap(): void {
    this.stopIndex = 0;
  }
}
