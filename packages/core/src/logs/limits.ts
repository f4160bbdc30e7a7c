/** Stated in docs/methods.md and enforced while reading. */
export const LOG_LIMITS = {
  fileBytes: 64 * 1024 * 1024,
  samples: 4_000_000,
  columns: 256,
  /** No logger writes a line of a megabyte; a file that has one is not a log. */
  lineCharacters: 1024 * 1024,
  /** Unpacked bytes allowed per packed byte. */
  unpackRatio: 16,
} as const;
