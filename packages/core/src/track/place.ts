/** Along a meridian, m. */
export const METRES_PER_DEGREE = 111_320;

/** A place on the earth, degrees. */
export interface Place {
  readonly latitude: number;
  readonly longitude: number;
}
export interface PathPlace extends Place {
  /** Along the course from its start, m. */
  readonly distanceM: number;
}
