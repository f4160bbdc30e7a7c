/** From the last sample before it to the first after it, s of the log. */
export interface Gap {
  readonly startS: number;
  readonly endS: number;
}
