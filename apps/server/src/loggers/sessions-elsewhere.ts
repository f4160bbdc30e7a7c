import { Injectable } from '@nestjs/common';
import { z } from 'zod';
import { CHANNEL_NAMES, type ChannelName } from '@ebrix/core/logs';
import { loggerSessionSchema, type LoggerSession } from '@ebrix/contract';
import { Clock } from '../common/clock.js';
import type { Newest, SessionView } from './session-view.js';

const channelSchema = z.enum(CHANNEL_NAMES as [ChannelName, ...ChannelName[]]);
/** A session as one server tells it to the others. Moments are told as ages: their clocks need not agree. */
export const toldSessionSchema = z.strictObject({
  dto: loggerSessionSchema.omit({ lastSeenAt: true, badLines: true }),
  pace: z.number(),
  ageMs: z.number(),
  newest: z.strictObject({ t: z.number(), ageMs: z.number() }).nullable(),
  values: z.array(z.tuple([channelSchema, z.number()])),
  silent: z.array(z.strictObject({ name: channelSchema, silentS: z.number() })),
});
type ToldSession = z.output<typeof toldSessionSchema>;

export function tellSession(session: SessionView, nowMs: number): ToldSession {
  const { lastSeenAt: _seen, badLines: _bad, ...dto } = session.toDto();
  const { newest } = session;
  return {
    dto,
    pace: session.pace,
    ageMs: nowMs - session.lastSeenAt.getTime(),
    newest: newest ? { t: newest.t, ageMs: nowMs - newest.arrivedMs } : null,
    values: [...session.values],
    silent: session.silentSensors(),
  };
}

class ToldView implements SessionView {
  readonly lastSeenAt: Date;
  readonly newest: Newest | undefined;
  readonly values: ReadonlyMap<ChannelName, number>;

  constructor(
    private readonly told: ToldSession,
    readonly heardMs: number,
  ) {
    this.lastSeenAt = new Date(heardMs - told.ageMs);
    this.newest = told.newest ? { t: told.newest.t, arrivedMs: heardMs - told.newest.ageMs } : undefined;
    this.values = new Map(told.values);
  }

  get id(): string {
    return this.told.dto.id;
  }
  get loggerId(): string {
    return this.told.dto.logger.id;
  }
  get isEnded(): boolean {
    return this.told.dto.isEnded;
  }
  get isConnected(): boolean {
    return this.told.dto.isConnected;
  }
  get samples(): number {
    return this.told.dto.samples;
  }
  get missing(): number {
    return this.told.dto.missing;
  }
  get bad(): number {
    return this.told.dto.bad;
  }
  get pace(): number {
    return this.told.pace;
  }
  silentSensors(): ToldSession['silent'] {
    return [...this.told.silent];
  }
  /** Its bad lines are with the server it sends to. */
  toDto(): LoggerSession {
    return { ...this.told.dto, lastSeenAt: this.lastSeenAt.toISOString(), badLines: [] };
  }
}

/** Not told anew for so long, its server is gone. */
const GONE_MS = 10_000;

/** Sessions of loggers that send to another server of the same database, as that one last told. */
@Injectable()
export class SessionsElsewhere {
  private readonly told = new Map<string, ToldView>();
  private readonly moved = new Set<string>();

  constructor(private readonly clock: Clock) {}

  hear(sessions: readonly ToldSession[]): void {
    const now = this.clock.now().getTime();
    for (const told of sessions) {
      this.told.set(told.dto.id, new ToldView(told, now));
      this.moved.add(told.dto.id);
    }
  }

  find(sessionId: string): SessionView | undefined {
    const found = this.told.get(sessionId);
    return found && this.isThere(found) ? found : undefined;
  }

  /** Another server had it since this was last asked: what is known of it here may be behind. */
  hadIt(sessionId: string): boolean {
    return this.moved.delete(sessionId);
  }

  ofLogger(loggerId: string): SessionView[] {
    return [...this.told.values()].filter((view) => view.loggerId === loggerId && this.isThere(view));
  }

  private isThere(view: ToldView): boolean {
    const isThere = this.clock.now().getTime() - view.heardMs < GONE_MS;
    if (!isThere) this.told.delete(view.id);
    return isThere;
  }
}
