/** True state of the ride, kept `recordHz` times a second. */
export interface RideTrace {
  readonly timeS: Float64Array;
  readonly distanceM: Float64Array;
  readonly speedMps: Float64Array;
  readonly altitudeM: Float64Array;
  readonly voltageV: Float64Array;
  /** Positive while the battery discharges. */
  readonly currentA: Float64Array;
  /** Of the winding, where a motor's sensor sits. */
  readonly motorC: Float64Array;
  readonly cadenceRpm: Float64Array;
  readonly stateOfCharge: Float64Array;
  readonly riderW: Float64Array;
  readonly assistLevel: Float64Array;
  /** 1 while the brake is pulled. */
  readonly brake: Float64Array;
}

export const TRACE_COLUMNS = [
  'timeS',
  'distanceM',
  'speedMps',
  'altitudeM',
  'voltageV',
  'currentA',
  'motorC',
  'cadenceRpm',
  'stateOfCharge',
  'riderW',
  'assistLevel',
  'brake',
] as const satisfies readonly (keyof RideTrace)[];

export type RideMoment = Readonly<Record<(typeof TRACE_COLUMNS)[number], number>>;

/** Collects moments of a ride of unknown length into the columns of a trace. */
export class TraceRecorder {
  private readonly columns = TRACE_COLUMNS.map((): number[] => []);

  add(moment: RideMoment): void {
    TRACE_COLUMNS.forEach((channel, k) => this.columns[k]!.push(moment[channel]));
  }

  toTrace(): RideTrace {
    return Object.fromEntries(
      TRACE_COLUMNS.map((channel, k) => [channel, Float64Array.from(this.columns[k]!)]),
    ) as Record<keyof RideTrace, Float64Array>;
  }
}
