import { Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { Subject } from 'rxjs';
import { channelDefinition, type ChannelName } from '@ebrix/core/logs';
import {
  ArrivalClock,
  SequenceLedger,
  type LoggerHello,
  type LoggerSample,
  type NumberRange,
  type Placement,
} from '@ebrix/core/logger';
import type { StoredLine } from '@ebrix/core/logger';
import { convertUnit, type UnitName } from '@ebrix/core/units';
import type { LoggerSession } from '@ebrix/contract';
import { Clock } from '../common/clock.js';
import { DomainError } from '../common/domain-error.js';
import { PendingLines } from './pending-lines.js';
import { SessionRepository, type Chunk, type StoredSession } from './session.repository.js';

/** Lines lie in memory no longer than this before they are on disk. */
const FLUSH_MS = 250;
/** A logger that was silent for longer does not belong to a ride that begins now. */
const SENDING_MS = 15_000;
const COUNTS_EVERY_MS = 2000;
/** Memory for lines of all sessions while the database does not answer: minutes of many loggers. */
const MAX_PENDING_BYTES = 256 * 1024 * 1024;
const BAD_LINES_KEPT = 20;
/** A session that nobody speaks of any more leaves memory; a logger that comes back finds it in the database. */
const FORGET_MS = 3600_000;
/** One insert carries no more than this. */
const MAX_CHUNKS = 20;

/** A line that was sent late, from before what is shown now, is stored but not shown. */
const LATE_S = 1;
/** With nothing shown for this long, whatever arrives is: temperatures must never stand still unseen. */
const STALE_MS = 3000;

/** A sensor that gave values gives one at least so often, those that are read now and then too. */
const SENSOR_SILENT_S = 30;

/** The newest readings of a session by their arrival; `t` is the logger's clock without its steps. */
export interface Newest {
  readonly t: number;
  readonly arrivedMs: number;
}
type Reported = Pick<Placement<unknown>, 'stepS'> & { readonly setAside: readonly { n: number; t: number }[] };
export interface SessionEvent {
  readonly kind: 'ended' | 'moved' | 'opened';
  readonly sessionId: string;
  readonly loggerId: string;
  /** The logger's seconds. */
  readonly t: number;
}

/** What a connection sees of its session. */
export class OpenSession {
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

  /** Channels that had values and have none any more, though the logger goes on: a sensor that came off, say. */
  silentSensors(): { name: ChannelName; silentS: number }[] {
    return [...this.heardMs].flatMap(([name, heardMs]) => {
      const silentS = Math.round((this.lastSeenAt.getTime() - heardMs) / 1000);
      return silentS > SENSOR_SILENT_S ? [{ name, silentS }] : [];
    });
  }

  toDto(): LoggerSession {
    return {
      id: this.id,
      logger: { id: this.stored.loggerId, name: this.stored.loggerName },
      session: this.stored.name,
      samples: this.ledger.count,
      duplicates: this.duplicates,
      late: this.late,
      bad: this.bad,
      missing: this.ledger.missing(),
      lastSeenAt: this.lastSeenAt.toISOString(),
      isConnected: this.connections > 0,
      isEnded: this.isEnded,
      badLines: this.badLines,
    };
  }
}

/** Slower than this is standing, km/h. */
const MOVING_KMH = 2;
const MOVING_SAMPLES = 3;
const MOVEMENT_NOTICE_MS = 500;

/** Takes the lines of all loggers: counts, sorts out duplicates, and has every line on disk within a fraction of a second. */
@Injectable()
export class LoggerHub implements OnApplicationShutdown {
  private readonly logger = new Logger('loggers');
  private readonly sessions = new Map<string, OpenSession>();
  private readonly opening = new Map<string, Promise<OpenSession>>();
  private readonly happened = new Subject<SessionEvent>();
  private timer: NodeJS.Timeout | undefined;
  private flushing: Promise<void> | undefined;
  private countsAt = 0;
  private hasWarned = false;
  /** Memory for lines that wait, of all sessions together, and how much of it is taken. */
  maxPendingBytes = MAX_PENDING_BYTES;
  private pendingBytes = 0;

  constructor(
    private readonly repository: SessionRepository,
    private readonly clock: Clock,
  ) {}

  get events() {
    return this.happened.asObservable();
  }

  /** Begins or resumes a session. Fails: `unknown-logger`, and `wrong-state` when its channels changed. */
  async open(hello: LoggerHello): Promise<OpenSession> {
    const logger = await this.repository.findLogger(hello.logger);
    if (!logger)
      throw new DomainError(
        'unknown-logger',
        `There is no logger "${hello.logger.slice(0, 40)}" on the bench. Add it under Bench, Loggers, or send its name exactly.`,
      );
    const key = `${logger.id} ${hello.session}`;
    // Two connections that begin at once share one session.
    let opening = this.opening.get(key);
    if (!opening) {
      opening = this.load(logger.id, hello).finally(() => this.opening.delete(key));
      this.opening.set(key, opening);
    }
    const session = await opening;
    if (session.hello.channels.join() !== hello.channels.join() || session.hello.units.join() !== hello.units.join())
      throw new DomainError(
        'wrong-state',
        'The channels or units of this session changed. Begin a new session name for them.',
      );
    session.isEnded = false;
    session.lastSeenAt = this.clock.now();
    this.happened.next({ kind: 'opened', sessionId: session.id, loggerId: logger.id, t: session.newest?.t ?? 0 });
    return session;
  }

  private async load(loggerId: string, hello: LoggerHello): Promise<OpenSession> {
    const stored = await this.repository.open(loggerId, hello);
    const known = this.sessions.get(stored.id);
    if (known) return known;
    const session = new OpenSession(stored, { ...hello, ...stored.hello }, await this.repository.rangesOf(stored.id));
    const last = await this.repository.lastArrival(stored.id);
    if (last) session.arrivals.resume(last.loggerS, last.arrivedS);
    this.sessions.set(session.id, session);
    this.timer ??= setInterval(() => void this.flush(), FLUSH_MS);
    return session;
  }

  find(sessionId: string): OpenSession | undefined {
    return this.sessions.get(sessionId);
  }

  /** The session in which a logger sends now: heard within the last seconds, and not ended. */
  sendingOf(loggerId: string): OpenSession | undefined {
    const since = this.clock.now().getTime() - SENDING_MS;
    const own = [...this.sessions.values()].filter(
      (session) => session.stored.loggerId === loggerId && !session.isEnded && session.lastSeenAt.getTime() > since,
    );
    return own.sort((a, b) => b.lastSeenAt.getTime() - a.lastSeenAt.getTime())[0];
  }

  /** Takes one sample; it is on disk after the next flush. Fails: `busy` while too much waits for the database. */
  take(session: OpenSession, { n, t, values }: LoggerSample): void {
    // Before the line is noted as received: refused, it may be sent again.
    if (this.pendingBytes >= this.maxPendingBytes)
      throw new DomainError(
        'busy',
        'The database does not answer, and no more lines can be kept. Send them again later.',
      );
    session.lastSeenAt = this.clock.now();
    session.countsChanged = true;
    const state = session.ledger.add(n);
    if (state === 'duplicate') {
      session.duplicates++;
      return;
    }
    const arrivedMs = session.lastSeenAt.getTime();
    let settledT: number | undefined;
    if (state === 'late') {
      session.late++;
      settledT = session.arrivals.placeLate({ n, t, line: values }, arrivedMs / 1000);
      if (settledT === undefined) this.report(session, { setAside: [{ n, t }] });
      else this.keep(session, n, settledT, values);
    } else {
      const placement = session.arrivals.place({ n, t, line: values }, arrivedMs / 1000);
      for (const line of placement.placed) this.keep(session, line.n, line.t, line.line);
      settledT = placement.placed.at(-1)?.t;
      this.report(session, placement);
    }
    const { newest } = session;
    const isStale = newest !== undefined && arrivedMs - newest.arrivedMs > STALE_MS;
    if (newest && state === 'late' && settledT !== undefined && settledT < newest.t - LATE_S && !isStale) return;
    // By arrival, whatever the logger's clock says: a limit is reached when its reading arrives.
    session.hello.channels.forEach((name, k) => {
      const value = values[k]!;
      if (Number.isNaN(value)) return;
      session.values.set(name, toFieldUnit(name, value, session.hello.units[k]!));
      session.heardMs.set(name, arrivedMs);
    });
    if (settledT === undefined) return;
    // A late line may be what is shown; the session has still gone on to where it was.
    session.newest = { t: state === 'late' && newest ? Math.max(newest.t, settledT) : settledT, arrivedMs };
    this.notifyMovement(session, settledT);
  }

  private keep(session: OpenSession, n: number, t: number, values: readonly number[]): void {
    this.pendingBytes += session.pending.push([n, t, ...values.map((value) => (Number.isNaN(value) ? null : value))]);
  }

  /** Lines with a stray time, and a clock that was set, are shown among the bad lines. */
  private report(session: OpenSession, { setAside, stepS }: Reported): void {
    for (const { n, t } of setAside)
      this.countBad(
        session,
        n,
        `Its time, ${t.toFixed(1)} s, does not fit when it arrived. Its readings were shown, the line was left out.`,
      );
    if (stepS === undefined) return;
    session.badLines = [
      {
        line: session.ledger.count,
        reason: `The logger’s clock was set by ${(-stepS).toFixed(1)} s in mid-session. Its times are moved back, and the ride goes on.`,
      },
      ...session.badLines,
    ].slice(0, BAD_LINES_KEPT);
    session.countsChanged = true;
  }

  private notifyMovement(session: OpenSession, t: number): void {
    const speed = session.values.get('speed') ?? 0;
    session.movingSamples = speed > MOVING_KMH ? session.movingSamples + 1 : 0;
    // Again and again: a ride may be made ready while the bike already rolls.
    const isDue = session.lastSeenAt.getTime() - session.movementNotifiedAt >= MOVEMENT_NOTICE_MS;
    if (session.movingSamples < MOVING_SAMPLES || !isDue) return;
    session.movementNotifiedAt = session.lastSeenAt.getTime();
    this.happened.next({ kind: 'moved', sessionId: session.id, loggerId: session.stored.loggerId, t });
  }

  countBad(session: OpenSession, line: number, reason: string): void {
    session.bad++;
    session.badLines = [{ line, reason }, ...session.badLines].slice(0, BAD_LINES_KEPT);
    session.countsChanged = true;
  }

  async end(session: OpenSession): Promise<void> {
    await this.flush();
    session.isEnded = true;
    session.countsChanged = true;
    this.happened.next({
      kind: 'ended',
      sessionId: session.id,
      loggerId: session.stored.loggerId,
      t: session.newest?.t ?? 0,
    });
  }

  /** Writes all that waits. While the database is away the lines stay, and go with the next flush. */
  async flush(): Promise<void> {
    while (this.flushing) await this.flushing;
    this.flushing = this.writeAll().finally(() => (this.flushing = undefined));
    await this.flushing;
  }

  private async writeAll(): Promise<void> {
    for (;;) {
      const waiting = [...this.sessions.values()].filter(({ pending }) => pending.length > 0).slice(0, MAX_CHUNKS);
      if (waiting.length === 0) break;
      if (!(await this.write(waiting))) return;
    }
    const now = this.clock.now();
    if (now.getTime() - this.countsAt <= COUNTS_EVERY_MS) return;
    this.countsAt = now.getTime();
    await this.keepCounts();
    this.forget(now.getTime() - FORGET_MS);
  }

  /** The oldest batch of each session; a line leaves memory only once it is on disk. */
  private async write(waiting: readonly OpenSession[]): Promise<boolean> {
    const batches = waiting.map((session) => ({ session, lines: session.pending.oldest() }));
    try {
      await this.repository.append(batches.map(({ session, lines }) => toChunk(session.id, lines, session.lastSeenAt)));
    } catch (error) {
      if (!this.hasWarned) this.logger.warn(`lines wait in memory: ${(error as Error).message}`);
      this.hasWarned = true;
      return false;
    }
    this.hasWarned = false;
    for (const { session, lines } of batches) {
      this.pendingBytes -= session.pending.drop(lines.length);
      session.highestStored = lines.reduce((most, [n]) => Math.max(most, n), session.highestStored);
      const upTo = session.pending.acknowledgeable(session.highestStored);
      if (upTo >= 0) for (const acknowledge of session.acknowledge) acknowledge(upTo);
    }
    return true;
  }

  /** The lines are stored by now: counts that cannot be written are tried again, and lose none of them. */
  private async keepCounts(): Promise<void> {
    for (const session of this.sessions.values()) {
      if (!session.countsChanged) continue;
      session.countsChanged = false;
      try {
        await this.repository.keepCounts(session.id, session, session.lastSeenAt);
      } catch (error) {
        session.countsChanged = true;
        this.logger.warn(`counts of a session wait: ${(error as Error).message}`);
        return;
      }
    }
  }

  private forget(silentSinceMs: number): void {
    for (const session of this.sessions.values()) {
      const isBusy = session.connections > 0 || session.pending.length > 0 || session.countsChanged;
      if (!isBusy && session.lastSeenAt.getTime() < silentSinceMs) this.sessions.delete(session.id);
    }
  }

  async onApplicationShutdown(): Promise<void> {
    clearInterval(this.timer);
    await this.flush();
    await this.keepCounts();
    this.happened.complete();
  }
}

function toFieldUnit(name: ChannelName, value: number, unit: UnitName): number {
  return convertUnit(value, unit, channelDefinition(name).fieldUnit);
}

function toChunk(sessionId: string, lines: readonly StoredLine[], receivedAt: Date): Chunk {
  const ranges: { from: number; to: number }[] = [];
  let fromT = Infinity;
  let toT = -Infinity;
  for (const [n, t] of lines) {
    const last = ranges.at(-1);
    if (last && n === last.to + 1) last.to = n;
    else ranges.push({ from: n, to: n });
    fromT = Math.min(fromT, t);
    toT = Math.max(toT, t);
  }
  return { sessionId, ranges, sampleCount: lines.length, fromT, toT, receivedAt, lines };
}
