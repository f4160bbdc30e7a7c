import { Body, Controller, Headers, HttpCode, Post } from '@nestjs/common';
import type { z } from 'zod';
import { LOGGER_LIMITS } from '@ebrix/core/logger';
import type { loggerAnswerSchema } from '@ebrix/contract';
import { DomainError } from '../common/domain-error.js';
import { LineReader } from './line-reader.js';
import { LoggerHub } from './logger-hub.js';

/** Loggers over HTTP: the same lines, each request begun with hello. */
@Controller('logger')
export class LoggerController {
  constructor(private readonly hub: LoggerHub) {}

  /** Answers when every line is on disk. */
  @Post('lines')
  @HttpCode(200)
  async lines(
    @Body() body: unknown,
    @Headers('content-type') contentType = '',
  ): Promise<z.output<typeof loggerAnswerSchema>> {
    if (typeof body !== 'string')
      throw new DomainError(
        'invalid-request',
        `Send lines as application/x-ndjson or text/plain, not as "${contentType.slice(0, 60)}".`,
      );
    const lines = body.split('\n');
    if (lines.length > LOGGER_LIMITS.linesPerRequest)
      throw new DomainError(
        'too-large',
        `A request takes at most ${LOGGER_LIMITS.linesPerRequest} lines. Send it in pieces.`,
      );
    const bad: z.output<typeof loggerAnswerSchema>['bad'] = [];
    const reader = new LineReader(this.hub, (answer) => {
      if ('bad' in answer && bad.length < 100) bad.push(answer.bad);
    });
    let before = { count: 0, duplicates: 0 };
    for (const line of lines) {
      const hadSession = reader.session !== undefined;
      await reader.read(line);
      if (!hadSession && reader.session)
        before = { count: reader.session.ledger.count, duplicates: reader.session.duplicates };
    }
    const { session } = reader;
    if (!session)
      throw new DomainError(
        'invalid-request',
        bad[0]?.reason ?? 'The request holds no hello. Its first line must be {"hello":{…}}.',
        { bad },
      );
    await this.hub.flush();
    if (session.pending.length > 0)
      throw new DomainError(
        'database-unreachable',
        'The database does not answer; the lines wait in memory. Send them again to be sure.',
      );
    return {
      session: session.stored.name,
      next: session.ledger.resumeFrom,
      stored: session.ledger.count - before.count,
      duplicates: session.duplicates - before.duplicates,
      bad,
    };
  }
}
