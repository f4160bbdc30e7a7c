import { Injectable, type OnModuleInit } from '@nestjs/common';
import type { Request } from 'express';
import { AccountRepository, type Who } from './account.repository.js';
import { InternalKeys } from './internal-keys.js';

/** How often it is looked whether a first account was made elsewhere, by the command line or another server. */
const LOOK_EVERY_MS = 1000;
const LOOPBACK: ReadonlySet<string> = new Set(['127.0.0.1', '::1', '::ffff:127.0.0.1']);

/** Whether there are accounts, and who is asking. */
@Injectable()
export class Door implements OnModuleInit {
  private isClosedNow = false;
  private lookedAt = 0;
  private looking: Promise<void> | undefined;

  constructor(
    private readonly accounts: AccountRepository,
    private readonly internal: InternalKeys,
  ) {}

  async onModuleInit(): Promise<void> {
    await this.look();
  }

  /**
   * Whether there are accounts. Once closed it stays so: there is always an owner left. While open it is looked again beside
   * the requests, so that none waits for a database that is away.
   */
  isClosed(): boolean {
    if (!this.isClosedNow && Date.now() - this.lookedAt > LOOK_EVERY_MS)
      this.looking ??= this.look()
        .catch(() => undefined)
        .finally(() => (this.looking = undefined));
    return this.isClosedNow;
  }

  /** Looks now: the first account was just made. */
  async look(): Promise<void> {
    this.lookedAt = Date.now();
    if (!this.isClosedNow) this.isClosedNow = await this.accounts.isAnyThere();
  }

  /** The account of a request: by its key, or by its cookie. */
  async whoIs(request: Request, key?: string): Promise<Who | undefined> {
    const secret = /^Bearer (\S{20,200})$/.exec(request.headers.authorization ?? '')?.[1] ?? key;
    if (secret !== undefined) return this.whose(secret);
    const accountId = (request as { session?: { accountId?: string } }).session?.accountId;
    return accountId === undefined ? undefined : this.accounts.findOpen(accountId);
  }

  /** The account of a request that lasts: its session may have ended since it began. */
  async stillIs(request: Request): Promise<Who | undefined> {
    const { session } = request as {
      session?: { accountId?: string; reload?: (done: (error: unknown) => void) => void };
    };
    const isThere =
      session?.accountId === undefined ||
      !session.reload ||
      (await new Promise<boolean>((resolve) => session.reload!((error) => resolve(!error))));
    return isThere ? this.whoIs(request) : undefined;
  }

  /** Whose key it is. */
  whose(secret: string): Promise<Who | undefined> {
    const own = this.internal.find(secret);
    return own ? Promise.resolve(own) : this.accounts.ofKey(secret);
  }

  /** Without accounts only this machine is answered. */
  isFromHere(request: Pick<Request, 'headers' | 'socket'>): boolean {
    return LOOPBACK.has(request.socket.remoteAddress ?? '') && request.headers['x-forwarded-for'] === undefined;
  }
}
