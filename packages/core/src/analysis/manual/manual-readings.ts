/** What a tester writes down without a logger. Every field optional; every reading keeps the step its source has. */
export interface ManualReadings {
  /** Passes of gates on the stopwatch, in order. */
  readonly laps?: readonly ManualLap[];
  /** Trip distance of a display, and the step in which it counts. */
  readonly tripDistanceKm?: number;
  readonly tripStepKm?: number;
  readonly displayMeanKmh?: number;
  readonly displayStepKmh?: number;
  readonly restVoltageStartV?: number;
  readonly restVoltageEndV?: number;
  readonly voltageStepV?: number;
  /** Socket energy, to fill the pack again after the ride. */
  readonly wallEnergyWh?: number;
  readonly wallStepWh?: number;
  readonly temperatures?: readonly SpotTemperature[];
  readonly heartRates?: readonly { readonly elapsedS: number; readonly bpm: number }[];
}
export interface ManualLap {
  readonly gate: 'start' | 'lap' | 'finish';
  readonly direction: 1 | -1;
  readonly elapsedS: number;
}
export interface SpotTemperature {
  readonly place: 'motor' | 'controller' | 'battery' | 'air';
  readonly elapsedS: number;
  readonly valueC: number;
}
/** A span between a start and the finish that follows it. */
export interface ManualPass {
  readonly direction: 1 | -1;
  readonly seconds: number;
  readonly startS: number;
  readonly endS: number;
}

/** Two presses closer than this are a slip of the thumb. */
const SHORTEST_PASS_S = 1;

/** Pairs of start and finish; a start without a finish, or the other way round, is left aside. */
export function passesOf(laps: readonly ManualLap[] = []): ManualPass[] {
  const passes: ManualPass[] = [];
  let start: ManualLap | undefined;
  for (const lap of laps) {
    if (lap.gate === 'start') start = lap;
    else if (lap.gate === 'finish' && start && lap.elapsedS >= start.elapsedS + SHORTEST_PASS_S) {
      passes.push({
        direction: start.direction,
        seconds: lap.elapsedS - start.elapsedS,
        startS: start.elapsedS,
        endS: lap.elapsedS,
      });
      start = undefined;
    }
  }
  return passes;
}
