export const LINE_FEED = 10;
export const CARRIAGE_RETURN = 13;

/** The byte that ends the lines of a file, by the whole of it. */
export function newlineOf(bytes: Uint8Array): number {
  return bytes.includes(LINE_FEED) ? LINE_FEED : CARRIAGE_RETURN;
}
