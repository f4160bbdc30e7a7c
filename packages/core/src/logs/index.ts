export {
  CHANNEL_NAMES,
  CHANNELS,
  channelDefinition,
  type ChannelColumns,
  type ChannelDefinition,
  type ChannelName,
} from './channels.js';
export { cleanLog, type CleaningReport, type CleanLog, type RemovedSpikes } from './clean-log.js';
export { type SpeedComparison } from './compare-speeds.js';
export { csvCell, toCsv } from './csv-cell.js';
export { findCsvDialect, type CsvDialect } from './csv-dialect.js';
export { decodeText } from './decode-text.js';
export { haversineM } from './haversine.js';
export { LOG_LIMITS } from './limits.js';
export {
  catchLogProblem,
  catchLogProblemIn,
  LogProblemError,
  valueOf,
  type LogOutcome,
  type LogProblem,
  type LogProblemCode,
  type MappingQuestion,
} from './log-problem.js';
export { parseUnit } from './unit-spellings.js';
export { headerSignature, type ColumnMapping, type LogMapping } from './mapping.js';
export { parseNumber, type DecimalMark } from './parse-number.js';
export { type RawLog, type UnreadableCells } from './raw-log.js';
export { inspectLog, readLog, type LogInspection } from './read-log.js';
export { inspectLogInPieces, readLogInPieces, type Pieces } from './read-log-in-pieces.js';
export { readTable, tableNumber, type Table } from './read-table.js';
export { sanitiseFileName } from './sanitise-file-name.js';
export type { Gap } from './gap.js';
export type { StuckSpan } from './find-stuck.js';
export { sliceMotion, type Motion } from './take-motion.js';
export { trackLength, type TrackLength } from './track-length.js';
