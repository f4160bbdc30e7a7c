import type { ChannelName } from '@ebrix/core/logs';
import { ArrivalClock, SequenceLedger, type LoggerHello, type NumberRange } from '@ebrix/core/logger';
import type { LoggerSession } from '@ebrix/contract';
import { PendingLines } from './pending-lines.js';
import type { Newest, SessionView } from './session-view.js';
import type { StoredSession } from './session.repository.js';

const BAD_LINES_KEPT = 20;
/** A sensor that gave values gives one at least so often, those that are read now and then too. */
const SENSOR_SILENT_S = 30;

/** What a connection sees of its session. */
export class OpenSession implements SessionView {
  readonly ledger: SequenceLedger;
  readonly hello: LoggerHello;
  duplicates: number;
  late: number;
  bad: number;
  badLines: { line: number; reason: string }[];
  isEnded: boolean;
  connections = 0;
  lastSeenAt: Date;
  newest: Newest | undefined;
  /** Lines that are not on disk yet. */
  readonly pending = new PendingLines();
  readonly arrivals: ArrivalClock<readonly number[]>;
  countsChanged = false;
  /** Called after each flush with the number up to which every line is on disk. */
  readonly acknowledge = new Set<(n: number) => void>();
  readonly values = new Map<ChannelName, number>();
  /** When each channel last had a value, ms. */
  readonly heardMs = new Map<ChannelName, number>();
  movingSamples = 0;
  highestStored = -1;
  movementNotifiedAt = 0;

  constructor(
    readonly stored: StoredSession,
    hello: LoggerHello,
    ranges: readonly NumberRange[],
  ) {
    this.hello = hello;
    this.ledger = new SequenceLedger(ranges);
    this.arrivals = new ArrivalClock(hello.pace);
    this.duplicates = stored.duplicates;
    this.late = stored.late;
    this.bad = stored.bad;
    this.badLines = [...stored.badLines];
    this.isEnded = stored.isEnded;
    this.lastSeenAt = stored.lastSeenAt;
  }

  get id(): string {
    return this.stored.id;
  }

  get loggerId(): string {
    return this.stored.loggerId;
  }
  get isConnected(): boolean {
    return this.connections > 0;
  }
  get samples(): number {
    return this.ledger.count;
  }
  get missing(): number {
    return this.ledger.missing();
  }
  get pace(): number {
    return this.hello.pace;
  }

  silentSensors(): { name: ChannelName; silentS: number }[] {
    return [...this.heardMs].flatMap(([name, heardMs]) => {
      const silentS = Math.round((this.lastSeenAt.getTime() - heardMs) / 1000);
      return silentS > SENSOR_SILENT_S ? [{ name, silentS }] : [];
    });
  }

  countBad(line: number, reason: string): void {
    this.bad++;
    this.noteBadLine(line, reason);
  }

  /** Shown among the bad lines without being one. */
  noteBadLine(line: number, reason: string): void {
    this.badLines = [{ line, reason }, ...this.badLines].slice(0, BAD_LINES_KEPT);
    this.countsChanged = true;
  }

  toDto(): LoggerSession {
    return {
      id: this.id,
      logger: { id: this.loggerId, name: this.stored.loggerName },
      session: this.stored.name,
      samples: this.samples,
      duplicates: this.duplicates,
      late: this.late,
      bad: this.bad,
      missing: this.missing,
      lastSeenAt: this.lastSeenAt.toISOString(),
      isConnected: this.isConnected,
      isEnded: this.isEnded,
      badLines: this.badLines,
    };
  }
}
