import { Injectable } from '@nestjs/common';
import { RateLimiterMemory, RateLimiterRes } from 'rate-limiter-flexible';
import { DomainError } from '../common/domain-error.js';

const WITHIN_S = 900;
/** Wrong passwords for one name, and for all names from one address, before it has to wait. */
const PER_NAME = 8;
const PER_ADDRESS = 40;

/** Guessing is slow: after a few wrong passwords a name, or an address, waits a quarter of an hour. */
@Injectable()
export class SignInLimits {
  private readonly names = new RateLimiterMemory({ points: PER_NAME, duration: WITHIN_S });
  private readonly addresses = new RateLimiterMemory({ points: PER_ADDRESS, duration: WITHIN_S });

  /** Counted before the password is looked at: many at once would else all be looked at. Fails: `too-many-tries`. */
  async count(name: string, address: string): Promise<void> {
    try {
      await this.addresses.consume(address);
      await this.names.consume(name.toLowerCase());
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
    await this.names.delete(name.toLowerCase());
    await this.addresses.reward(address, 1);
  }
}
