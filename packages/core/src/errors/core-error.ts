/** A caller's mistake: wrong arguments, not bad data. `code` is stable. */
export class CoreError extends Error {
  constructor(
    readonly code: string,
    message: string,
  ) {
    super(message);
    this.name = 'CoreError';
  }
}
