import type { CommandLaw } from './fit-command.js';
import type { FixedOfBike, Parameters } from './parameters.js';

/** A way cut into pieces of even grade. */
export interface PathProfile {
  readonly lengthM: number;
  /** End of each piece along the way, m, growing; and its grade as rise over run. */
  readonly endM: Float64Array;
  readonly sine: Float64Array;
  readonly cosine: Float64Array;
}

export interface PathRiding {
  /** Order for help, 0–1. */
  readonly demand: number;
  /** Infinity: help as ordered, as fast as it goes. */
  readonly targetMps: number;
  readonly riderW: number;
  /** Distances at which the rider must stop, m, and for how long, s. */
  readonly stopsM: readonly number[];
  readonly dwellS: number;
  /** Help comes up over so long, s. */
  readonly rampS: number;
  readonly along?: RidingAlong;
}

/** What changes along a way instead of staying: the last value holds on. */
export interface RidingAlong {
  readonly everyM: number;
  readonly demand?: Float64Array;
  readonly targetMps?: Float64Array;
  readonly riderW?: Float64Array;
}

export interface PathAir {
  readonly density: number;
  readonly temperatureC: number;
  readonly headWindMps: number;
}

/** A bike as one sample of the parameters. */
export interface PathBike {
  readonly parameters: Parameters;
  readonly fixed: FixedOfBike;
  readonly law: CommandLaw;
  readonly massKg: number;
  /** Begins to cut help back, and has cut it, °C; Infinity where it never does. */
  readonly cutBackFromC: number;
  readonly cutBackToC: number;
}

export interface PathOutcome {
  timeS: number;
  movingS: number;
  distanceM: number;
  lowestMps: number;
  stalls: number;
  energyOutJ: number;
  usedAh: number;
  /** The same as a share of what the pack holds. */
  usedShare: number;
  riderJ: number;
  /** What the motor put on the road. */
  driveJ: number;
  /** Deepest sag below the voltage at rest, V. */
  sagV: number;
  lowestV: number;
  peakMotorC: number;
  cutBackM: number;
  limitAtS: number;
  endedBy: 'finish' | 'cut-off' | 'stall' | 'time';
  /** What of the energy does not add up, as a share of what went in. */
  imbalanceShare: number;
}

/** Columns along the way for drawing: filled at even distances. */
export interface PathColumns {
  readonly everyM: number;
  readonly timeS: Float64Array;
  readonly speedMps: Float64Array;
  readonly powerW: Float64Array;
  readonly voltageV: Float64Array;
  readonly share: Float64Array;
  readonly motorC: Float64Array;
  readonly energyJ: Float64Array;
}

/** Rise between two places by the profile itself, m; the way goes on beyond its end as it ended. */
export function riseBetween({ endM, sine }: PathProfile, from: number, fromM: number, toM: number): number {
  let [rise, at, piece] = [0, fromM, from];
  while (at < toM) {
    const next = piece < endM.length - 1 ? Math.min(toM, endM[piece]!) : toM;
    rise += sine[piece]! * (next - at);
    if (piece < endM.length - 1) piece++;
    at = next;
  }
  return rise;
}

/** Pieces between the points of a profile; along-track distance, altitude in m. */
export function pathProfile(
  points: readonly { readonly distanceM: number; readonly altitudeM: number }[],
): PathProfile {
  const n = points.length - 1;
  const endM = new Float64Array(n);
  const sine = new Float64Array(n);
  const cosine = new Float64Array(n);
  for (let k = 0; k < n; k++) {
    const run = points[k + 1]!.distanceM - points[k]!.distanceM;
    const grade = (points[k + 1]!.altitudeM - points[k]!.altitudeM) / run;
    const slant = Math.sqrt(1 + grade * grade);
    endM[k] = points[k + 1]!.distanceM;
    sine[k] = grade / slant;
    cosine[k] = 1 / slant;
  }
  return { lengthM: points[n]!.distanceM, endM, sine, cosine };
}
