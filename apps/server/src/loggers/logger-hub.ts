import { setTimeout as sleep } from 'node:timers/promises';
import { Injectable, type OnApplicationShutdown } from '@nestjs/common';
import { Subject } from 'rxjs';
import { channelDefinition, type ChannelName } from '@ebrix/core/logs';
import type { LoggerHello, LoggerSample, Placement } from '@ebrix/core/logger';
import { convertUnit, type UnitName } from '@ebrix/core/units';
import { Clock } from '../common/clock.js';
import { DomainError } from '../common/domain-error.js';
import { LoggerSecrets } from './logger-secrets.js';
import { LineWriter } from './line-writer.js';
import { OpenSession } from './open-session.js';
import { SessionRepository } from './session.repository.js';
import type { SessionView } from './session-view.js';
import { SessionsElsewhere } from './sessions-elsewhere.js';

/** Lines lie in memory no longer than this before they are on disk. */
const FLUSH_MS = 250;
/** A logger that was silent for longer does not belong to a ride that begins now. */
const SENDING_MS = 15_000;
/** A session that nobody speaks of any more leaves memory; a logger that comes back finds it in the database. */
const FORGET_MS = 3600_000;
/** Others are told of a logger until it was silent for so long. */
const TOLD_FOR_MS = 60_000;

/** A line that was sent late, from before what is shown now, is stored but not shown. */
const LATE_S = 1;
/** With nothing shown for this long, whatever arrives is: temperatures must never stand still unseen. */
const STALE_MS = 3000;

type Reported = Pick<Placement<unknown>, 'stepS'> & { readonly setAside: readonly { n: number; t: number }[] };
export interface SessionEvent {
  readonly kind: 'ended' | 'moved' | 'opened';
  readonly sessionId: string;
  readonly loggerId: string;
  /** The logger's seconds. */
  readonly t: number;
}

/** Slower than this is standing, km/h. */
const MOVING_KMH = 2;
const MOVING_SAMPLES = 3;
const MOVEMENT_NOTICE_MS = 500;

/** Takes the lines of all loggers: counts, sorts out duplicates, and has every line on disk within a fraction of a second. */
@Injectable()
export class LoggerHub implements OnApplicationShutdown {
  private readonly sessions = new Map<string, OpenSession>();
  private readonly opening = new Map<string, Promise<OpenSession>>();
  private readonly happened = new Subject<SessionEvent>();
  private timer: NodeJS.Timeout | undefined;

  readonly lines: LineWriter;

  constructor(
    private readonly repository: SessionRepository,
    private readonly clock: Clock,
    private readonly secrets: LoggerSecrets,
    private readonly elsewhere: SessionsElsewhere,
  ) {
    this.lines = new LineWriter(repository, clock, this.sessions);
  }

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
    await this.secrets.require(logger, hello.secret);
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
    // A logger that comes back from another server: what that one stored is not known here.
    const isBehind = known && known.connections === 0 && known.pending.length === 0 && this.elsewhere.hadIt(known.id);
    if (known && !isBehind) return known;
    const session = new OpenSession(stored, { ...hello, ...stored.hello }, await this.repository.rangesOf(stored.id));
    const last = await this.repository.lastArrival(stored.id);
    if (last) session.arrivals.resume(last.loggerS, last.arrivedS);
    this.sessions.set(session.id, session);
    this.timer ??= setInterval(() => void this.flush(), FLUSH_MS);
    return session;
  }

  /** Here or with another server: where its logger was heard last. */
  find(sessionId: string): SessionView | undefined {
    return newestOf([this.sessions.get(sessionId), this.elsewhere.find(sessionId)]);
  }

  /** The session in which a logger sends now: heard within the last seconds, and not ended. */
  sendingOf(loggerId: string): SessionView | undefined {
    const since = this.clock.now().getTime() - SENDING_MS;
    const own = [...this.sessions.values()].filter((session) => session.loggerId === loggerId);
    return newestOf(
      [...own, ...this.elsewhere.ofLogger(loggerId)].filter(
        (session) => !session.isEnded && session.lastSeenAt.getTime() > since,
      ),
    );
  }

  /** Sessions here that others may want to know of. */
  heardLately(): SessionView[] {
    const since = this.clock.now().getTime() - TOLD_FOR_MS;
    return [...this.sessions.values()].filter(
      ({ isConnected, lastSeenAt }) => isConnected || lastSeenAt.getTime() > since,
    );
  }

  /** All that this server was sent is on disk; what another one was sent is after the time it takes to write. */
  async settle(sessionId: string): Promise<void> {
    await this.flush();
    if (this.elsewhere.find(sessionId)) await sleep(2 * FLUSH_MS);
  }

  /** Takes one sample; it is on disk after the next flush. Fails: `busy` while too much waits for the database. */
  take(session: OpenSession, { n, t, values }: LoggerSample): void {
    // Before the line is noted as received: refused, it may be sent again.
    this.lines.requireRoom();
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
      else this.lines.add(session, n, settledT, values);
    } else {
      const placement = session.arrivals.place({ n, t, line: values }, arrivedMs / 1000);
      for (const line of placement.placed) this.lines.add(session, line.n, line.t, line.line);
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

  /** Lines with a stray time, and a clock that was set, are shown among the bad lines. */
  private report(session: OpenSession, { setAside, stepS }: Reported): void {
    for (const { n, t } of setAside)
      session.countBad(
        n,
        `Its time, ${t.toFixed(1)} s, does not fit when it arrived. Its readings were shown, the line was left out.`,
      );
    if (stepS === undefined) return;
    session.noteBadLine(
      session.ledger.count,
      `The logger’s clock was set by ${(-stepS).toFixed(1)} s in mid-session. Its times are moved back, and the ride goes on.`,
    );
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

  /** Writes all that waits, and lets go of sessions that have been silent for long. */
  async flush(): Promise<void> {
    await this.lines.flush();
    this.forget(this.clock.now().getTime() - FORGET_MS);
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
    await this.lines.keepCounts();
    this.happened.complete();
  }
}

function newestOf(sessions: readonly (SessionView | undefined)[]): SessionView | undefined {
  return sessions
    .filter((session) => session !== undefined)
    .sort((a, b) => b.lastSeenAt.getTime() - a.lastSeenAt.getTime())[0];
}

function toFieldUnit(name: ChannelName, value: number, unit: UnitName): number {
  return convertUnit(value, unit, channelDefinition(name).fieldUnit);
}
