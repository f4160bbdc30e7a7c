import type { ChannelColumns, ChannelName } from './channels.js';

export interface UnreadableCells {
  readonly channel: ChannelName | 'time';
  readonly count: number;
  /** Line of the file, from 1, of the first one. */
  readonly firstLine: number;
}

/** A log as read, before cleaning: units settled, nothing judged. */
export interface RawLog {
  readonly format: 'csv' | 'gpx';
  /** Seconds from the first readable time; NaN where the cell held no time. Empty clock: `hasClock` is false, values count samples. */
  readonly timeS: Float64Array;
  readonly hasClock: boolean;
  /** Seconds since 1970 of `timeS` = 0, where the file tells the date. */
  readonly startEpochS?: number;
  readonly channels: ChannelColumns;
  readonly unreadable: readonly UnreadableCells[];
  /** Records with fewer or more values than the header. */
  readonly raggedRecords: number;
  /** Columns of which someone said which sign discharge has; nothing is decided for them. */
  readonly signsSaid?: readonly string[];
  /** Columns that were not used, by header. */
  readonly ignoredColumns: readonly string[];
}
