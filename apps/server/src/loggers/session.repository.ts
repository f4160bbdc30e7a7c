import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import type { LoggerHello, NumberRange, StoredLine } from '@ebrix/core/logger';
import { KNEX } from '../database/database.module.js';

export interface SessionCounts {
  readonly duplicates: number;
  readonly late: number;
  readonly bad: number;
  readonly badLines: readonly { line: number; reason: string }[];
  readonly isEnded: boolean;
}
export interface StoredSession extends SessionCounts {
  readonly id: string;
  readonly loggerId: string;
  readonly loggerName: string;
  readonly name: string;
  readonly hello: Pick<LoggerHello, 'channels' | 'pace' | 'units'>;
  readonly lastSeenAt: Date;
}
export interface Chunk {
  readonly sessionId: string;
  readonly ranges: readonly NumberRange[];
  readonly sampleCount: number;
  readonly fromT: number;
  readonly toT: number;
  readonly receivedAt: Date;
  readonly lines: readonly StoredLine[];
}
interface SessionRow {
  id: string;
  logger_id: string;
  logger_name: string;
  name: string;
  channels: LoggerHello['channels'];
  units: LoggerHello['units'];
  pace: number;
  duplicates: number;
  late: number;
  bad: number;
  bad_lines: { line: number; reason: string }[];
  is_ended: boolean;
  last_seen_at: Date;
}

/** Enough pairs of clocks to fit one to the other. */
const ARRIVALS_USED = 5000;

/** Sessions of loggers and what they sent, as it came. */
@Injectable()
export class SessionRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  /** A logger on the bench, by its identifier or its name. */
  async findLogger(word: string): Promise<{ id: string; name: string } | undefined> {
    const row = await this.database('logger')
      .select<{ id: string; name: string }[]>('id', 'name')
      .whereNull('archived_at')
      .andWhere(
        (where) =>
          void where.whereRaw('id::text = ?', [word.toLowerCase()]).orWhereRaw('lower(name) = lower(?)', [word]),
      )
      .first();
    return row;
  }

  /** The session of that name, made when it is new; what it measures may not change within it. */
  async open(loggerId: string, hello: LoggerHello): Promise<StoredSession> {
    await this.database('logger_session')
      .insert({
        id: uuidv7(),
        logger_id: loggerId,
        name: hello.session,
        channels: JSON.stringify(hello.channels),
        units: JSON.stringify(hello.units),
        pace: hello.pace,
      })
      .onConflict(['logger_id', 'name'])
      .merge({ is_ended: false, last_seen_at: this.database.fn.now() });
    return (await this.find({ 's.logger_id': loggerId, 's.name': hello.session }))!;
  }

  find(where: Record<string, string>): Promise<StoredSession | undefined> {
    return this.database('logger_session as s')
      .join('logger as l', 'l.id', 's.logger_id')
      .select('s.*', 'l.name as logger_name')
      .where(where)
      .first()
      .then((row: SessionRow | undefined) => row && toSession(row));
  }

  async rangesOf(sessionId: string): Promise<NumberRange[]> {
    const rows = await this.database('sample_chunk')
      .select<{ ranges: NumberRange[] }[]>('ranges')
      .where({ session_id: sessionId })
      .orderBy('id');
    return rows.flatMap(({ ranges }) => ranges);
  }

  /** When which of the logger's seconds arrived: enough of them to know its clock. */
  async arrivalsOf(sessionId: string): Promise<{ loggerS: number; arrivedS: number }[]> {
    const numbered = this.database('sample_chunk')
      .where({ session_id: sessionId })
      .select('id', 'to_t', 'received_at')
      .select(this.database.raw('row_number() over (order by id) as k, count(*) over () as total'))
      .as('numbered');
    // Evenly over the whole session, however long it is: the end of a day says as much of the drift as its beginning.
    const rows = await this.database
      .from(numbered)
      .select<{ to_t: number; received_at: Date }[]>('to_t', 'received_at')
      .whereRaw('k % greatest(1, total / ?) = 0 or k = 1 or k = total', [ARRIVALS_USED])
      .orderBy('id');
    return (rows as unknown as { to_t: number; received_at: Date }[]).map((row) => ({
      loggerS: row.to_t,
      arrivedS: row.received_at.getTime() / 1000,
    }));
  }

  /** The newest line of a session, and when it arrived. */
  async lastArrival(sessionId: string): Promise<{ loggerS: number; arrivedS: number } | undefined> {
    const row = await this.database('sample_chunk')
      .select<{ to_t: number; received_at: Date }[]>('to_t', 'received_at')
      .where({ session_id: sessionId })
      .orderBy('id', 'desc')
      .first();
    return row && { loggerS: row.to_t, arrivedS: row.received_at.getTime() / 1000 };
  }

  /** Texts of the chunks that touch a span of the logger's clock, a stored line in each of their lines. */
  async chunksOf(sessionId: string, fromT: number, toT: number): Promise<string[]> {
    const rows = await this.database('sample_chunk')
      .select<{ lines: string }[]>('lines')
      .where({ session_id: sessionId })
      .andWhere('to_t', '>=', fromT)
      .andWhere('from_t', '<=', toT)
      .orderBy('id');
    return rows.map(({ lines }) => lines);
  }

  /** All of it in one statement, on disk when this returns. */
  async append(chunks: readonly Chunk[]): Promise<void> {
    await this.database('sample_chunk').insert(
      chunks.map((chunk) => ({
        session_id: chunk.sessionId,
        ranges: JSON.stringify(chunk.ranges),
        sample_count: chunk.sampleCount,
        from_t: chunk.fromT,
        to_t: chunk.toT,
        received_at: chunk.receivedAt,
        lines: chunk.lines.map((line) => JSON.stringify(line)).join('\n'),
      })),
    );
  }

  async keepCounts(id: string, counts: SessionCounts, lastSeenAt: Date): Promise<void> {
    await this.database('logger_session')
      .where({ id })
      .update({
        duplicates: counts.duplicates,
        late: counts.late,
        bad: counts.bad,
        bad_lines: JSON.stringify(counts.badLines),
        is_ended: counts.isEnded,
        last_seen_at: lastSeenAt,
      });
  }
}

function toSession(row: SessionRow): StoredSession {
  return {
    id: row.id,
    loggerId: row.logger_id,
    loggerName: row.logger_name,
    name: row.name,
    hello: { channels: row.channels, units: row.units, pace: row.pace },
    duplicates: row.duplicates,
    late: row.late,
    bad: row.bad,
    badLines: row.bad_lines,
    isEnded: row.is_ended,
    lastSeenAt: row.last_seen_at,
  };
}
