import type { ChannelName } from '@ebrix/core/logs';
import type { LoggerSession } from '@ebrix/contract';

/** The newest readings of a session by their arrival; `t` is the logger's clock without its steps. */
export interface Newest {
  readonly t: number;
  readonly arrivedMs: number;
}

/** What rides and consoles see of a logger's session, whichever server it sends to. */
export interface SessionView {
  readonly id: string;
  readonly loggerId: string;
  readonly isEnded: boolean;
  readonly isConnected: boolean;
  readonly lastSeenAt: Date;
  readonly newest: Newest | undefined;
  readonly values: ReadonlyMap<ChannelName, number>;
  readonly samples: number;
  readonly missing: number;
  readonly bad: number;
  /** Seconds of the logger in one of the wall clock: 1 but for simulated rides. */
  readonly pace: number;
  /** Channels that had values and have none any more, though the logger goes on: a sensor that came off, say. */
  silentSensors(): { name: ChannelName; silentS: number }[];
  toDto(): LoggerSession;
}
