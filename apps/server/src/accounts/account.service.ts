import { Inject, Injectable } from '@nestjs/common';
import type { Request, Response } from 'express';
import type {
  AccessKey,
  AccessKeyInput,
  Account,
  AccountChange,
  AccountInput,
  NewAccessKey,
  PasswordChange,
  SessionState,
  SignIn,
  SignInCode,
} from '@ebrix/contract';
import { CONFIG, type Config } from '../common/config.js';
import { Clock } from '../common/clock.js';
import { DomainError, notFound } from '../common/domain-error.js';
import { AccountRepository, isAtLeast, type Who } from './account.repository.js';
import { Door } from './door.js';
import { hashPassword, isPassword, makeSecret } from './secrets.js';
import { Sessions } from './sessions.js';
import { SignInLimits } from './sign-in-limits.js';

const CODE_MS = 600_000;
const CHANGED = 'The account was changed in another window meanwhile. Look at it again, then decide.';

@Injectable()
export class AccountService {
  /** Looked at in place of a name that is not there: an answer comes no sooner. */
  private readonly nobody = hashPassword(makeSecret('nobody'));

  constructor(
    private readonly accounts: AccountRepository,
    private readonly sessions: Sessions,
    private readonly limits: SignInLimits,
    private readonly door: Door,
    private readonly clock: Clock,
    @Inject(CONFIG) private readonly config: Config,
  ) {}

  async stateOf(request: Request): Promise<SessionState> {
    if (!this.door.isClosed()) return { state: 'no-accounts', account: null };
    const who = await this.door.whoIs(request);
    return who ? signedIn(who) : { state: 'signed-out', account: null };
  }

  async signIn(request: Request, { name, password }: SignIn): Promise<SessionState> {
    this.requireAccounts();
    const address = request.ip ?? '';
    await this.limits.count(name, address);
    const account = await this.accounts.findByName(name);
    const isRight = await isPassword(password, account?.password ?? (await this.nobody));
    if (!account || !isRight) throw new DomainError('wrong-password', 'Name or password is wrong.');
    await this.limits.forget(name, address);
    await this.sessions.begin(request, account.id);
    return signedIn(account);
  }

  async signInByCode(request: Request, code: string): Promise<SessionState> {
    this.requireAccounts();
    const address = request.ip ?? '';
    // A code cannot be guessed; only whoever tries for long has to wait, and nobody else.
    await this.limits.count(`code of ${address}`, address);
    const accountId = await this.accounts.useCode(code);
    const account = accountId === undefined ? undefined : await this.accounts.findOpen(accountId);
    if (!account)
      throw new DomainError(
        'wrong-password',
        'This code was used already, or is too old. Show a new one under Upkeep, People.',
      );
    await this.limits.forget(`code of ${address}`, address);
    await this.sessions.begin(request, account.id);
    return signedIn(account);
  }

  async signOut(request: Request, response: Response): Promise<SessionState> {
    if (request.session !== undefined) await this.sessions.end(request, response);
    return { state: this.door.isClosed() ? 'signed-out' : 'no-accounts', account: null };
  }

  async changePassword(request: Request, who: Who | undefined, change: PasswordChange): Promise<SessionState> {
    const account = who && (await this.accounts.findOpen(who.id));
    if (!account) throw new DomainError('signed-out', 'There is no account to change yet.');
    const address = request.ip ?? '';
    await this.limits.count(account.name, address);
    if (!(await isPassword(change.before, account.password)))
      throw new DomainError('wrong-password', 'The password before is wrong. Nothing was changed.');
    await this.limits.forget(account.name, address);
    await this.accounts.setPassword(account.id, await hashPassword(change.after), request.sessionID);
    return signedIn(account);
  }

  async makeCode(who: Who | undefined): Promise<SignInCode> {
    if (!who)
      throw new DomainError('wrong-state', 'Without accounts only this machine gets in. Add the first account.');
    const code = makeSecret('once');
    const expiresAt = new Date(this.clock.now().getTime() + CODE_MS);
    await this.accounts.addCode(who.id, code, expiresAt);
    return { code, expiresAt: expiresAt.toISOString(), addresses: this.config.EBRIX_SHARED };
  }

  list(): Promise<Account[]> {
    return this.accounts.list();
  }

  /** The first is an owner, whatever was asked for: there has to be one. */
  async add(input: AccountInput): Promise<Account> {
    const isFirst = !this.door.isClosed();
    const id = await this.accounts.insert(
      isFirst ? { ...input, role: 'owner' } : input,
      await hashPassword(input.password),
      isFirst,
    );
    await this.door.look();
    if (id === undefined)
      throw new DomainError(
        'changed-meanwhile',
        'A first account was just added elsewhere. Sign in, then add this one.',
      );
    return (await this.accounts.find(id))!;
  }

  async change(id: string, { version, role, isBlocked, password = null }: AccountChange): Promise<Account> {
    const before = await this.accounts.find(id);
    if (!before) throw notFound('This account');
    const hash = password === null ? null : await hashPassword(password);
    const outcome = await this.accounts.update(id, version, { role, isBlocked, password: hash });
    if (outcome === 'last-owner')
      throw new DomainError('wrong-state', 'This is the last owner: somebody has to be able to let others in.');
    if (outcome === 'changed-meanwhile')
      throw new DomainError('changed-meanwhile', CHANGED, { current: await this.accounts.find(id) });
    return (await this.accounts.find(id))!;
  }

  keys(who: Who | undefined): Promise<AccessKey[]> {
    return who ? this.accounts.keysOf(who.role === 'owner' ? undefined : who.id) : Promise.resolve([]);
  }

  async addKey(who: Who | undefined, { label, role }: AccessKeyInput): Promise<NewAccessKey> {
    if (!who) throw new DomainError('wrong-state', 'Without accounts no script needs a key. Add the first account.');
    if (!isAtLeast(who.role, role))
      throw new DomainError('not-allowed', 'A key cannot do more than the account that it belongs to.');
    const secret = makeSecret('ebrix');
    const id = await this.accounts.addKey(who.id, label, role, secret);
    const [key] = (await this.accounts.keysOf(who.id)).filter((one) => one.id === id);
    return { ...key!, secret };
  }

  async deleteKey(who: Who | undefined, id: string): Promise<void> {
    const isGone = who && (await this.accounts.deleteKey(id, who.role === 'owner' ? undefined : who.id));
    if (!isGone) throw notFound('This key');
  }

  private requireAccounts(): void {
    if (!this.door.isClosed())
      throw new DomainError('wrong-state', 'There are no accounts yet: at this machine everything is open as it is.');
  }
}

function signedIn({ id, name, role }: Who): SessionState {
  return { state: 'signed-in', account: { id, name, role } };
}
