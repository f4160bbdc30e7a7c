/** Stated limits of a logger's sensors (± of a rectangular distribution), relative gains as fractions. */
export interface InstrumentErrors {
  readonly voltageGain: number;
  readonly currentGain: number;
  readonly currentOffsetA: number;
  /** Wheel circumference and counting. */
  readonly distanceGain: number;
  readonly speedOffsetMps: number;
  readonly altitudeM: number;
  readonly clockGain: number;
}

/** Taken where the tester stated nothing: an ordinary shunt, divider and a circumference measured by roll-out. */
export const DEFAULT_INSTRUMENT: InstrumentErrors = {
  voltageGain: 0.005,
  currentGain: 0.01,
  currentOffsetA: 0.03,
  distanceGain: 0.005,
  speedOffsetMps: 0.03,
  altitudeM: 1,
  clockGain: 0.0001,
};
