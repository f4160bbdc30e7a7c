import { randomUUID } from 'node:crypto';
import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import type { Knex } from 'knex';
import { z } from 'zod';
import { Clock } from '../common/clock.js';
import { ChangeNotifications, CHANGE_CHANNELS } from '../database/change-notifications.js';
import { KNEX } from '../database/database.module.js';
import { LoggerHub } from './logger-hub.js';
import { SessionsElsewhere, tellSession, toldSessionSchema } from './sessions-elsewhere.js';

const TELL_EVERY_MS = 300;
/** Whether or not there is something to tell, the others hear that this one is there. */
const GREET_EVERY_MS = 2000;
const THERE_FOR_MS = 3 * GREET_EVERY_MS;
/** PostgreSQL takes 8000 bytes in one notification. */
const MOST_BYTES = 7500;

const messageSchema = z.strictObject({ from: z.string(), sessions: z.array(toldSessionSchema) });

/** Several servers on one database: each tells the others of the loggers that send to it, so that any console sees any logger. Alone it only greets. */
@Injectable()
export class LiveExchange implements OnApplicationShutdown {
  private readonly logger = new Logger('live exchange');
  private readonly own = randomUUID();
  private readonly timers: NodeJS.Timeout[] = [];
  private othersHeardAt = -Infinity;
  private isTelling = false;
  /** When each session was last told, by what it was then. */
  private readonly told = new Map<string, string>();

  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly notifications: ChangeNotifications,
    private readonly hub: LoggerHub,
    private readonly elsewhere: SessionsElsewhere,
    private readonly clock: Clock,
  ) {}

  start(): void {
    this.notifications.stream(CHANGE_CHANNELS.live).subscribe((text) => this.hear(text));
    this.timers.push(
      setInterval(() => void this.tell(), TELL_EVERY_MS).unref(),
      setInterval(() => this.greet(), GREET_EVERY_MS).unref(),
    );
    this.greet();
  }

  onApplicationShutdown(): void {
    this.timers.forEach((timer) => clearInterval(timer));
  }

  private hear(text: string): void {
    const message = messageSchema.safeParse(parsed(text));
    // Of a server of another version, or from somebody else's hand: not understood, not taken.
    if (!message.success || message.data.from === this.own) return;
    this.othersHeardAt = this.clock.now().getTime();
    this.elsewhere.hear(message.data.sessions);
  }

  /** Sessions are told again with every greeting, so that one whose logger is quiet is not taken for gone. */
  private greet(): void {
    this.told.clear();
    void this.send([]);
  }

  private async tell(): Promise<void> {
    const now = this.clock.now().getTime();
    if (this.isTelling || now - this.othersHeardAt > THERE_FOR_MS) return;
    this.isTelling = true;
    try {
      let sessions: ReturnType<typeof tellSession>[] = [];
      let bytes = 0;
      for (const session of this.hub.heardLately()) {
        const state = `${session.lastSeenAt.getTime()} ${session.isConnected} ${session.isEnded}`;
        if (this.told.get(session.id) === state) continue;
        this.told.set(session.id, state);
        const one = tellSession(session, now);
        const size = Buffer.byteLength(JSON.stringify(one));
        if (bytes + size > MOST_BYTES && sessions.length > 0) {
          await this.send(sessions);
          sessions = [];
          bytes = 0;
        }
        sessions.push(one);
        bytes += size;
      }
      if (sessions.length > 0) await this.send(sessions);
    } finally {
      this.isTelling = false;
    }
  }

  private async send(sessions: ReturnType<typeof tellSession>[]): Promise<void> {
    await this.database
      .raw('select pg_notify(?, ?)', [CHANGE_CHANNELS.live, JSON.stringify({ from: this.own, sessions })])
      // While the database is away nobody hears anything; the next one is told.
      .catch((error: unknown) => this.logger.debug(String(error)));
  }
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}
