/** Stated in docs/methods.md and enforced while reading. */
export const LOG_LIMITS = {
  /** Six rough hours of a phone that feels its movement sixty times a second are 80. */
  fileBytes: 96 * 1024 * 1024,
  /** A file that is packed: it is read piece by piece, as it unpacks. Four million samples of twelve channels are 300. */
  unpackedBytes: 512 * 1024 * 1024,
  samples: 4_000_000,
  columns: 256,
  /** No logger writes a line of a megabyte; a file that has one is not a log. */
  lineCharacters: 1024 * 1024,
  /** A longer column name is cut: no logger writes one, and patterns are tried on it. */
  headerCharacters: 200,
  /** A longer cell is no number and no time. */
  cellCharacters: 64,
  /** Elements within elements of a GPX file. */
  depth: 64,
  /** Unpacked bytes allowed per packed byte. */
  unpackRatio: 16,
} as const;
