import { randomBytes } from 'node:crypto';
import { Inject, Injectable, Logger, type OnApplicationShutdown, type OnModuleInit } from '@nestjs/common';
import connectPgSimple from 'connect-pg-simple';
import type { NextFunction, Request, RequestHandler, Response } from 'express';
import session from 'express-session';
import pg from 'pg';
import { CONFIG, type Config } from '../common/config.js';
import { Clock } from '../common/clock.js';
import { AccountRepository } from './account.repository.js';

declare module 'express-session' {
  interface SessionData {
    accountId: string;
    /** In a word what it is: more is nobody's business. */
    device: string;
    signedInAt: string;
    seenAt: string;
  }
}

const DAY_MS = 86_400_000;
/** Signed out by itself after so long without a request, and after so long whatever happens. */
const IDLE_MS = 7 * DAY_MS;
const LONGEST_MS = 60 * DAY_MS;
/** Written no more often than this: every request would be a row written. */
const SEEN_EVERY_MS = 300_000;

/** Sessions of browsers: a cookie that no script reads, and a row in the database that can be taken away. */
@Injectable()
export class Sessions implements OnModuleInit, OnApplicationShutdown {
  private readonly logger = new Logger('sessions');
  private pool: pg.Pool | undefined;
  private handler: RequestHandler | undefined;

  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly accounts: AccountRepository,
    private readonly clock: Clock,
  ) {}

  async onModuleInit(): Promise<void> {
    const secret = await this.accounts.installationSecret('cookie', () => randomBytes(32).toString('base64url'));
    const Store = connectPgSimple(session);
    this.pool = new pg.Pool({ connectionString: this.config.DATABASE_URL, max: 3, application_name: 'ebrix' });
    // A database that went away is noticed by the next request.
    this.pool.on('error', () => undefined);
    this.handler = session({
      name: 'ebrix',
      secret,
      resave: false,
      saveUninitialized: false,
      store: new Store({
        pool: this.pool,
        tableName: 'sign_in_session',
        disableTouch: true,
        pruneSessionInterval: 3600,
        errorLog: (...problem) => this.logger.warn(problem.map(String).join(' ')),
      }),
      cookie: { httpOnly: true, sameSite: 'strict', secure: 'auto', maxAge: IDLE_MS },
    });
  }

  /** Reads the cookie, where one was sent or may be set. */
  use(request: Request, response: Response, next: NextFunction): void {
    if (request.headers.cookie === undefined && !request.path.startsWith('/api/session')) return next();
    this.handler!(request, response, (error?: unknown) => {
      if (!error) this.mindTime(request);
      next(error);
    });
  }

  private mindTime(request: Request): void {
    const { accountId, signedInAt, seenAt } = request.session;
    if (accountId === undefined) return;
    const now = this.clock.now().getTime();
    if (now - Date.parse(signedInAt ?? '') > LONGEST_MS) delete request.session.accountId;
    else if (!(now - Date.parse(seenAt ?? '') < SEEN_EVERY_MS)) request.session.seenAt = new Date(now).toISOString();
  }

  /** A new session of this account; the one before, if any, is gone. */
  async begin(request: Request, accountId: string): Promise<void> {
    await new Promise<void>((resolve, reject) =>
      request.session.regenerate((error: Error | null) => (error ? reject(error) : resolve())),
    );
    const at = this.clock.now().toISOString();
    Object.assign(request.session, {
      accountId,
      device: deviceOf(request.headers['user-agent']),
      signedInAt: at,
      seenAt: at,
    });
    await new Promise<void>((resolve, reject) =>
      request.session.save((error: Error | null) => (error ? reject(error) : resolve())),
    );
  }

  async end(request: Request, response: Response): Promise<void> {
    await new Promise<void>((resolve, reject) =>
      request.session.destroy((error: Error | null) => (error ? reject(error) : resolve())),
    );
    response.clearCookie('ebrix');
  }

  async onApplicationShutdown(): Promise<void> {
    await this.pool?.end();
  }
}

function deviceOf(browser = ''): string {
  if (!browser.startsWith('Mozilla')) return 'a program';
  return /mobi/i.test(browser) ? 'a phone' : 'a computer';
}
