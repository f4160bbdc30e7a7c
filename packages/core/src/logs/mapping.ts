import type { UnitName } from '../units/index.js';
import type { ChannelName } from './channels.js';
import type { DecimalMark } from './parse-number.js';
import type { TimeFormat } from './parse-time.js';

/** How one column is read. `channel: null` leaves it out. */
export interface ColumnMapping {
  readonly header: string;
  readonly channel: ChannelName | 'time' | 'date' | null;
  readonly unit?: UnitName;
  readonly timeFormat?: TimeFormat;
  /** Of a current or power: 1 where discharge is counted positive, −1 where negative; absent: the log decides. */
  readonly sign?: 1 | -1;
}

/** How a whole table is read; saved as a logger profile and used again for the same header. */
export interface LogMapping {
  readonly columns: readonly ColumnMapping[];
  readonly decimal?: DecimalMark;
}

/** The header as one text: the key under which a profile is found again. */
export function headerSignature(header: readonly string[]): string {
  return header.map((name) => name.trim()).join('\u001f');
}
