import type { CommandLaw } from './command-fit.js';
import type { FixedOfBike, Parameters } from './parameters.js';

/** A way cut into pieces of even grade. */
export interface PathProfile {
  readonly lengthM: number;
  /** End of each piece along the way, m, growing; and its grade as rise over run. */
  readonly endM: Float64Array;
  readonly sine: Float64Array;
  readonly cosine: Float64Array;
  /** Mean of the directions of each piece, clockwise: its part along direction 0, and along 90°. Absent: all of the way goes in direction 0. */
  readonly towards?: { readonly ahead: Float64Array; readonly right: Float64Array };
}
/** A point of a way. Its heading holds until the next point, clockwise in degrees: from north, or from where the way sets out. */
export interface WayPoint {
  readonly distanceM: number;
  readonly altitudeM: number;
  readonly headingDeg?: number;
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
  /** From ahead for who rides in direction 0, and from the right: on a way that turns, both turn with it. */
  readonly headWindMps: number;
  readonly sideWindMps?: number;
}

/** What of the brakes' work comes back into the battery, and the most current that does, A. */
export interface Regain {
  readonly share: number;
  readonly limitA: number;
}

/** A second pack that takes over when the first is empty. */
export interface NextPack {
  readonly capacityAh: number;
  /** Its resistance as a multiple of the first one's. */
  readonly resists: number;
}

/** A bike as one sample of the parameters. */
export interface PathBike {
  readonly parameters: Parameters;
  readonly fixed: FixedOfBike;
  readonly law: CommandLaw;
  readonly massKg: number;
  /** How warm its controller gets is followed only where rides showed it. */
  readonly knowsController?: boolean;
  readonly nextPack?: NextPack;
  /** Where help follows the rider: the motor's power at the tyre over the rider's, at the most help. */
  readonly riderRatio?: number;
  /** Braking charges the battery. */
  readonly regain?: Regain;
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
  /** The same as a share of what all packs hold. */
  usedShare: number;
  /** What the cells gave at their voltage at rest, J. */
  openJ: number;
  /** Where the second pack took over, m; NaN where it did not. */
  changedAtM: number;
  /** What braking gave back, J. */
  regainedJ: number;
  riderJ: number;
  /** What the motor put on the road. */
  driveJ: number;
  /** Deepest sag below the voltage at rest, V, as the first pack would show it. */
  sagV: number;
  lowestV: number;
  peakMotorC: number;
  peakControllerC: number;
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
  readonly controllerC: Float64Array;
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
export function pathProfile(points: readonly WayPoint[]): PathProfile {
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
