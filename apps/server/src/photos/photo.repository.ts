import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import type { Photo, PhotoInput, PhotoOwner } from '@ebrix/contract';
import { DomainError } from '../common/domain-error.js';
import { iso } from '../common/row.js';
import { KNEX } from '../database/database.module.js';
import type { ReducedPhoto } from './reduce-photo.js';

const OWNER_COLUMN = {
  setup: 'setup_id',
  bike: 'bike_id',
  kit: 'kit_id',
  pack: 'pack_id',
  charger: 'charger_id',
  'add-on': 'add_on_id',
  'log-entry': 'log_entry_id',
} as const satisfies Record<PhotoOwner, string>;

interface PhotoRow {
  id: string;
  step: string;
  caption: string;
  width: number;
  height: number;
  byte_count: number;
  created_at: Date;
}
const COLUMNS = ['id', 'step', 'caption', 'width', 'height', 'byte_count', 'created_at'] as const;

@Injectable()
export class PhotoRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async listOf(owner: PhotoOwner, ownerId: string): Promise<Photo[]> {
    const rows = await this.database('photo')
      .select<PhotoRow[]>(...COLUMNS)
      .where({ [OWNER_COLUMN[owner]]: ownerId })
      .whereNull('removed_at')
      .orderBy('id');
    return rows.map((row) => toPhoto(row, owner, ownerId));
  }

  async insert(
    { id, owner, ownerId, step, caption }: PhotoInput,
    { bytes, width, height }: ReducedPhoto,
  ): Promise<Photo> {
    const rows: PhotoRow[] = await this.database('photo')
      .insert({
        id: id ?? uuidv7(),
        [OWNER_COLUMN[owner]]: ownerId,
        step,
        caption,
        bytes,
        byte_count: bytes.length,
        width,
        height,
      })
      .onConflict('id')
      .ignore()
      .returning([...COLUMNS]);
    const stored = rows[0] ? toPhoto(rows[0], owner, ownerId) : await this.find(id!, { owner, ownerId });
    if (!stored) throw new DomainError('wrong-state', 'Another photo has this id. Send it with one of its own.');
    return stored;
  }

  /** One that came before, of the same thing. */
  async find(id: string, { owner, ownerId }: Pick<Photo, 'owner' | 'ownerId'>): Promise<Photo | undefined> {
    const row = await this.database('photo')
      .select<PhotoRow[]>(...COLUMNS)
      .where({ id, [OWNER_COLUMN[owner]]: ownerId })
      .first();
    return row && toPhoto(row, owner, ownerId);
  }

  async findBytes(id: string): Promise<Buffer | undefined> {
    const row = await this.database('photo').select<{ bytes: Buffer }[]>('bytes').where({ id }).first();
    return row?.bytes;
  }

  /** A removed photo is kept until the next one is removed a week later, so that it can be brought back. */
  async setRemoved(id: string, isRemoved: boolean): Promise<number> {
    await this.database('photo').whereRaw("removed_at < now() - interval '7 days'").delete();
    return this.database('photo')
      .where({ id })
      .update({ removed_at: isRemoved ? this.database.fn.now() : null });
  }
}

function toPhoto(row: PhotoRow, owner: PhotoOwner, ownerId: string): Photo {
  return {
    id: row.id,
    owner,
    ownerId,
    step: row.step,
    caption: row.caption,
    width: row.width,
    height: row.height,
    byteCount: row.byte_count,
    createdAt: iso(row.created_at),
  };
}
