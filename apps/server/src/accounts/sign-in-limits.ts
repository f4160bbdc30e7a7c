import { createHash } from 'node:crypto';
import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { RateLimiterMemory, RateLimiterPostgres, RateLimiterRes } from 'rate-limiter-flexible';
import { DomainError } from '../common/domain-error.js';
import { KNEX } from '../database/database.module.js';

const WITHIN_S = 900;
/** Wrong passwords for one name, and for all names from one address, before it has to wait. */
const PER_NAME = 8;
const PER_ADDRESS = 40;

/** Guessing is slow: after a few wrong passwords a name, or an address, waits a quarter of an hour, whichever server is asked. */
@Injectable()
export class SignInLimits {
  private readonly names: RateLimiterPostgres;
  private readonly addresses: RateLimiterPostgres;

  constructor(@Inject(KNEX) database: Knex) {
    this.names = counted(database, 'name', PER_NAME);
    this.addresses = counted(database, 'address', PER_ADDRESS);
  }

  /** Counted before the password is looked at: many at once would else all be looked at. Fails: `too-many-tries`. */
  async count(name: string, address: string): Promise<void> {
    try {
      await this.addresses.consume(keyOf(address));
      await this.names.consume(keyOf(name.toLowerCase()));
    } catch (error) {
      if (!(error instanceof RateLimiterRes)) throw error;
      const minutes = Math.max(1, Math.ceil(error.msBeforeNext / 60_000));
      throw new DomainError(
        'too-many-tries',
        `Too many wrong passwords. Try again in ${minutes} ${minutes === 1 ? 'minute' : 'minutes'}, or let an owner set a new one.`,
      );
    }
  }

  async forget(name: string, address: string): Promise<void> {
    await this.names.delete(keyOf(name.toLowerCase()));
    await this.addresses.reward(keyOf(address), 1);
  }
}

function counted(database: Knex, keyPrefix: string, points: number): RateLimiterPostgres {
  const limits = { points, duration: WITHIN_S, keyPrefix };
  return new RateLimiterPostgres({
    ...limits,
    storeClient: database,
    storeType: 'knex',
    tableName: 'sign_in_try',
    tableCreated: true,
    // While the database is away nobody can be let in anyway; guesses are counted all the same.
    insuranceLimiter: new RateLimiterMemory(limits),
  });
}

/** Passwords get typed where the name belongs: what was tried is not kept in words. */
const keyOf = (text: string): string => createHash('sha256').update(text).digest('hex');
