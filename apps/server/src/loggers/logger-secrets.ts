import { timingSafeEqual } from 'node:crypto';
import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { isAtLeast } from '../accounts/account.repository.js';
import { Door } from '../accounts/door.js';
import { hashSecret, makeSecret } from '../accounts/secrets.js';
import { DomainError, notFound } from '../common/domain-error.js';
import { KNEX } from '../database/database.module.js';

/** Whether a logger is the one it says it is. */
@Injectable()
export class LoggerSecrets {
  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly door: Door,
  ) {}

  /** A new secret; the one before stops working. */
  async renew(loggerId: string): Promise<string> {
    const secret = makeSecret('box');
    const { rows } = await this.database.raw<{ rows: object[] }>(
      `insert into logger_secret (logger_id, secret_sha256) select id, ? from logger where id = ?
       on conflict (logger_id) do update set secret_sha256 = excluded.secret_sha256 returning 1`,
      [hashSecret(secret), loggerId],
    );
    if (rows.length === 0) throw notFound('This logger');
    return secret;
  }

  /**
   * A logger that was given a secret says it; one that was not is heard only while there are no accounts. What Ebrix started
   * itself, and a tester's key, are heard for any logger. Fails: `unknown-logger`.
   */
  async require({ id, name }: { readonly id: string; readonly name: string }, secret: string | null): Promise<void> {
    const row = await this.database('logger_secret')
      .where({ logger_id: id })
      .first<{ secret_sha256: Buffer } | undefined>('secret_sha256');
    if (!row && !this.door.isClosed()) return;
    if (secret !== null) {
      if (row && timingSafeEqual(row.secret_sha256, hashSecret(secret))) return;
      const who = await this.door.whose(secret);
      if (who && isAtLeast(who.role, 'tester')) return;
    }
    throw new DomainError(
      'unknown-logger',
      `The secret of logger "${name}" is ${secret === null ? 'missing' : 'wrong'}. Make one under Bench, Loggers, and send it as hello.secret.`,
    );
  }
}
