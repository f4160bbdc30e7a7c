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
  /** Start to finish by watch or phone, stops included; 60 where only minutes were noted. */
  readonly durationS?: number;
  readonly durationStepS?: number;
  /** Counter of a display that is never set back. */
  readonly odometerStartKm?: number;
  readonly odometerEndKm?: number;
  readonly odometerStepKm?: number;
  readonly highestSpeedKmh?: number;
  /** On the way back, where both directions were ridden. */
  readonly highestSpeedBackKmh?: number;
  readonly lowestSpeedKmh?: number;
  readonly highestPowerW?: number;
  readonly typicalPowerW?: number;
  readonly highestCurrentA?: number;
  readonly meanHeartRateBpm?: number;
  readonly peakHeartRateBpm?: number;
  /** Of the motor, by hand. */
  readonly motorTouch?: MotorTouch;
  /** How often the motor held back by itself. */
  readonly cutBacks?: number;
  /** Where a bar of the gauge went out, and how many were left then. */
  readonly barsOut?: readonly { readonly km: number; readonly left: number }[];
  /** Over several starts, by stopwatch or counted. */
  readonly helpAfterS?: readonly number[];
  readonly runOnS?: readonly number[];
  readonly brakeCutoffS?: readonly number[];
  readonly chargeHours?: number;
  /** Turn of the crank until help, in quarter turns, over several starts. */
  readonly helpAfterQuarterTurns?: readonly number[];
  /** What the display showed steadily at each assist level. */
  readonly levelTable?: readonly LevelReading[];
  readonly lowestVoltageV?: number;
  /** Bars seen on the way, with the time from the start. */
  readonly gaugeSeen?: readonly { readonly elapsedS: number; readonly bars: number }[];
  /** Levels noted on the way. */
  readonly levelsSeen?: readonly { readonly elapsedS: number; readonly level: string }[];
}
export interface LevelReading {
  readonly level: number;
  readonly speedKmh?: number | undefined;
  readonly powerW?: number | undefined;
}
/** How a hand takes a warm housing: the words testers use, each an interval of °C. */
export const MOTOR_TOUCHES = {
  cool: { label: 'Cool', fromC: null, toC: 30 },
  warm: { label: 'Warm', fromC: 28, toC: 43 },
  'can-be-held': { label: 'Hot, but can be held', fromC: 40, toC: 56 },
  'cannot-be-held': { label: 'Cannot be held for ten seconds', fromC: 50, toC: 95 },
} as const;
export type MotorTouch = keyof typeof MOTOR_TOUCHES;
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
  /** How often a lap gate was pressed on the way. */
  readonly lapPresses: number;
}

/** Two presses closer than this are a slip of the thumb. */
const SHORTEST_PASS_S = 1;
/** No bike with a kit is faster: what says so is a slip. */
export const FASTEST_KMH = 120;

/** A finish that was pressed sooner than any bike can be there. */
export interface SlippedFinish {
  readonly seconds: number;
}

/**
 * Pairs of start and finish; a start without a finish, or the other way round, is left aside.
 *
 * @param gateM between the gates, m; where known, a finish before a bike at 120 km/h could be there is left aside too and handed to `slipped`
 */
export function passesOf(
  laps: readonly ManualLap[] = [],
  gateM = 0,
  slipped: (finish: SlippedFinish) => void = () => undefined,
): ManualPass[] {
  const passes: ManualPass[] = [];
  const shortestS = Math.max(SHORTEST_PASS_S, (3.6 * gateM) / FASTEST_KMH);
  let start: ManualLap | undefined;
  let lapPresses = 0;
  for (const lap of laps) {
    if (lap.gate === 'start') {
      start = lap;
      lapPresses = 0;
    } else if (lap.gate === 'lap') lapPresses++;
    else if (start) {
      const seconds = lap.elapsedS - start.elapsedS;
      if (seconds < shortestS) {
        if (seconds >= SHORTEST_PASS_S) slipped({ seconds });
        continue;
      }
      passes.push({
        direction: start.direction,
        seconds,
        startS: start.elapsedS,
        endS: lap.elapsedS,
        lapPresses,
      });
      start = undefined;
    }
  }
  return passes;
}
