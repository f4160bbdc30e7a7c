import { Logger } from '@nestjs/common';
import type { StoredLine } from '@ebrix/core/logger';
import type { Clock } from '../common/clock.js';
import { DomainError } from '../common/domain-error.js';
import type { OpenSession } from './open-session.js';
import type { Chunk, SessionRepository } from './session.repository.js';

const COUNTS_EVERY_MS = 2000;
/** Memory for lines of all sessions while the database does not answer: minutes of many loggers. */
const MAX_PENDING_BYTES = 256 * 1024 * 1024;
/** One insert carries no more than this. */
const MAX_CHUNKS = 20;

/** Holds the lines of all sessions until they are on disk: none leaves memory before. */
export class LineWriter {
  private readonly logger = new Logger('loggers');
  private flushing: Promise<void> | undefined;
  private countsAt = 0;
  private hasWarned = false;
  /** Memory for lines that wait, of all sessions together, and how much of it is taken. */
  maxPendingBytes = MAX_PENDING_BYTES;
  private pendingBytes = 0;

  constructor(
    private readonly repository: SessionRepository,
    private readonly clock: Clock,
    private readonly sessions: ReadonlyMap<string, OpenSession>,
  ) {}

  /** Fails: `busy` while too much waits for the database. */
  requireRoom(): void {
    if (this.pendingBytes >= this.maxPendingBytes)
      throw new DomainError(
        'busy',
        'The database does not answer, and no more lines can be kept. Send them again later.',
      );
  }

  add(session: OpenSession, n: number, t: number, values: readonly number[]): void {
    this.pendingBytes += session.pending.push([n, t, ...values.map((value) => (Number.isNaN(value) ? null : value))]);
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
    const nowMs = this.clock.now().getTime();
    if (nowMs - this.countsAt <= COUNTS_EVERY_MS) return;
    this.countsAt = nowMs;
    await this.keepCounts();
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
  async keepCounts(): Promise<void> {
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
