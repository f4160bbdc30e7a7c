import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import type { AccessKey, Account, AccountInput, Role } from '@ebrix/contract';
import { iso, isoOrNull } from '../common/row.js';
import { KNEX } from '../database/database.module.js';
import { hashSecret } from './secrets.js';

/** Who is asking. */
export interface Who {
  readonly id: string;
  readonly name: string;
  readonly role: Role;
}
interface AccountRow extends Who {
  password: string;
  version: number;
  blocked_at: Date | null;
  created_at: Date;
  last_seen_at: Date | null;
}
const USED_EVERY_S = 60;
const LEAST: Readonly<Record<Role, number>> = { reader: 0, tester: 1, owner: 2 };

export function isAtLeast(role: Role, needed: Role): boolean {
  return LEAST[role] >= LEAST[needed];
}
/** The lesser of two roles. */
export function lesser(a: Role, b: Role): Role {
  return isAtLeast(a, b) ? b : a;
}

/** Accounts, keys and codes. Names are told apart whatever the case of their letters. */
@Injectable()
export class AccountRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async isAnyThere(): Promise<boolean> {
    const { rows } = await this.database.raw<{ rows: { there: boolean }[] }>(
      'select exists (select from account) as there',
    );
    return rows[0]!.there;
  }

  async list(): Promise<Account[]> {
    const rows = await this.select().orderByRaw<AccountRow[]>('lower(a.name)');
    return rows.map(toAccount);
  }

  async find(id: string): Promise<Account | undefined> {
    const [row] = (await this.select().where('a.id', id)) as AccountRow[];
    return row && toAccount(row);
  }

  /** One that may come in, with the hash of its password. */
  async findByName(name: string): Promise<(Who & { readonly password: string }) | undefined> {
    return this.database<AccountRow>('account')
      .select('id', 'name', 'role', 'password')
      .whereRaw('lower(name) = lower(?)', [name])
      .whereNull('blocked_at')
      .first();
  }

  async findOpen(id: string): Promise<(Who & { readonly password: string }) | undefined> {
    return this.database<AccountRow>('account')
      .select('id', 'name', 'role', 'password')
      .where({ id })
      .whereNull('blocked_at')
      .first();
  }

  /** The first, with `isFirst`, only while there is none: two that are added at once do not both become owners unseen. */
  async insert({ name, role }: AccountInput, password: string, isFirst: boolean): Promise<string | undefined> {
    return this.database.transaction(async (transaction) => {
      await transaction.raw('lock table account in share row exclusive mode');
      const { rows } = await transaction.raw<{ rows: object[] }>('select from account limit 1');
      if (isFirst !== (rows.length === 0)) return undefined;
      const id = uuidv7();
      await transaction('account').insert({ id, name, role, password });
      return id;
    });
  }

  /** What became of a change: `last-owner` when nobody could let anyone in afterwards. */
  async update(
    id: string,
    version: number,
    { role, isBlocked, password }: { role: Role; isBlocked: boolean; password: string | null },
  ): Promise<'changed-meanwhile' | 'last-owner' | 'stored'> {
    return this.database.transaction(async (transaction) => {
      await transaction.raw('lock table account in share row exclusive mode');
      const others = await transaction('account').whereNot({ id }).where({ role: 'owner' }).whereNull('blocked_at');
      if (others.length === 0 && (role !== 'owner' || isBlocked)) return 'last-owner';
      const count = await transaction('account')
        .where({ id, version })
        .update({
          role,
          blocked_at: isBlocked ? transaction.raw('coalesce(blocked_at, now())') : null,
          ...(password !== null && { password }),
          version: version + 1,
          updated_at: transaction.fn.now(),
        });
      if (count === 0) return 'changed-meanwhile';
      if (isBlocked || password !== null) await endSessions(transaction, id);
      return 'stored';
    });
  }

  async setPassword(id: string, password: string, keptSession: string | undefined): Promise<void> {
    await this.database.transaction(async (transaction) => {
      await transaction('account')
        .where({ id })
        .update({ password, version: transaction.raw('version + 1'), updated_at: transaction.fn.now() });
      await endSessions(transaction, id, keptSession);
    });
  }

  async keysOf(accountId: string | undefined): Promise<AccessKey[]> {
    const rows = (await this.database('access_key as k')
      .join('account as a', 'a.id', 'k.account_id')
      .select('k.id', 'k.label', 'a.name', 'k.role', 'k.created_at', 'k.last_used_at')
      .modify((query) => void (accountId !== undefined && query.where('k.account_id', accountId)))
      .orderBy('k.created_at')) as {
      id: string;
      label: string;
      name: string;
      role: Role;
      created_at: Date;
      last_used_at: Date | null;
    }[];
    return rows.map((row) => ({
      id: row.id,
      label: row.label,
      accountName: row.name,
      role: row.role,
      createdAt: iso(row.created_at),
      lastUsedAt: isoOrNull(row.last_used_at),
    }));
  }

  async addKey(accountId: string, label: string, role: Role, secret: string): Promise<string> {
    const id = uuidv7();
    await this.database('access_key').insert({
      id,
      account_id: accountId,
      label,
      role,
      secret_sha256: hashSecret(secret),
    });
    return id;
  }

  /** Of one account, or of any. */
  async deleteKey(id: string, accountId: string | undefined): Promise<boolean> {
    return (
      (await this.database('access_key')
        .where({ id, ...(accountId && { account_id: accountId }) })
        .delete()) > 0
    );
  }

  /** Whose key it is, with the key's own role where that is less. */
  async ofKey(secret: string): Promise<Who | undefined> {
    const row = await this.database('access_key as k')
      .join('account as a', 'a.id', 'k.account_id')
      .where('k.secret_sha256', hashSecret(secret))
      .whereNull('a.blocked_at')
      .first<{ key: string; id: string; name: string; role: Role; own: Role; is_old: boolean } | undefined>(
        'k.id as key',
        'a.id',
        'a.name',
        'a.role',
        'k.role as own',
        this.database.raw("coalesce(k.last_used_at < now() - ? * interval '1 second', true) as is_old", [USED_EVERY_S]),
      );
    if (!row) return undefined;
    if (row.is_old)
      await this.database('access_key').where({ id: row.key }).update({ last_used_at: this.database.fn.now() });
    return { id: row.id, name: row.name, role: lesser(row.role, row.own) };
  }

  async addCode(accountId: string, code: string, expiresAt: Date): Promise<void> {
    await this.database('sign_in_code').where('expires_at', '<', this.database.fn.now()).delete();
    await this.database('sign_in_code').insert({
      code_sha256: hashSecret(code),
      account_id: accountId,
      expires_at: expiresAt,
    });
  }

  /** Uses a code up and gives back whose it is. */
  async useCode(code: string): Promise<string | undefined> {
    const rows = await this.database('sign_in_code')
      .where({ code_sha256: hashSecret(code) })
      .whereNull('used_at')
      .where('expires_at', '>', this.database.fn.now())
      .update({ used_at: this.database.fn.now() })
      .returning<{ account_id: string }[]>('account_id');
    return rows[0]?.account_id;
  }

  /** A secret of this installation, made where there is none; the same for every server on the database. */
  async installationSecret(name: string, make: () => string): Promise<string> {
    await this.database('installation_secret').insert({ name, secret: make() }).onConflict().ignore();
    const row = await this.database<{ name: string; secret: string }>('installation_secret').where({ name }).first();
    return row!.secret;
  }

  private select(): Knex.QueryBuilder {
    return this.database('account as a').select(
      'a.*',
      this.database.raw(
        `(select max((sess->>'seenAt')::timestamptz) from sign_in_session where sess->>'accountId' = a.id::text) as last_seen_at`,
      ),
    );
  }
}

async function endSessions(transaction: Knex, accountId: string, except?: string): Promise<void> {
  await transaction('sign_in_session')
    .whereRaw("sess->>'accountId' = ?", [accountId])
    .modify((query) => void (except !== undefined && query.whereNot({ sid: except })))
    .delete();
}

function toAccount(row: AccountRow): Account {
  return {
    id: row.id,
    version: row.version,
    name: row.name,
    role: row.role,
    isBlocked: row.blocked_at !== null,
    createdAt: iso(row.created_at),
    lastSeenAt: isoOrNull(row.last_seen_at),
  };
}
