import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { z } from 'zod';
import type { Device } from '@ebrix/contract';
import { notFound } from '../common/domain-error.js';
import { KNEX } from '../database/database.module.js';

/** Not the session's own name, which is as good as its cookie, but a hash of it. */
export const deviceIdSchema = z.string().regex(/^[0-9a-f]{32}$/, 'There is no such device.');

interface Row {
  id: string;
  sid: string;
  name: string;
  device: string;
  signed_in_at: string;
  seen_at: string;
}

/** Where accounts are signed in. */
@Injectable()
export class DeviceRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async list(accountId: string | undefined, ownSession: string | undefined): Promise<Device[]> {
    const { rows } = await this.database.raw<{ rows: Row[] }>(
      `select md5(s.sid) as id, s.sid, a.name, s.sess->>'device' as device, s.sess->>'signedInAt' as signed_in_at,
         s.sess->>'seenAt' as seen_at
       from sign_in_session s join account a on a.id::text = s.sess->>'accountId'
       where s.expire > now() and (?::text is null or a.id::text = ?) order by seen_at desc`,
      [accountId ?? null, accountId ?? null],
    );
    return rows.map((row) => ({
      id: row.id,
      accountName: row.name,
      device: row.device,
      signedInAt: row.signed_in_at,
      lastSeenAt: row.seen_at,
      isThisOne: row.sid === ownSession,
    }));
  }

  async signOut(id: string, accountId: string | undefined): Promise<void> {
    const { rows } = await this.database.raw<{ rows: object[] }>(
      `delete from sign_in_session where md5(sid) = ? and (?::text is null or sess->>'accountId' = ?) returning 1`,
      [id, accountId ?? null, accountId ?? null],
    );
    if (rows.length === 0) throw notFound('This device');
  }
}
