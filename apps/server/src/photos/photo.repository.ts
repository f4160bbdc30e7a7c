import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import type { z } from 'zod';
import type { Photo, photoFieldsSchema, PhotoOwner } from '@ebrix/contract';
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
    { owner, ownerId, step, caption }: z.output<typeof photoFieldsSchema>,
    { bytes, width, height }: ReducedPhoto,
  ): Promise<Photo> {
    const rows: PhotoRow[] = await this.database('photo')
      .insert({
        id: uuidv7(),
        [OWNER_COLUMN[owner]]: ownerId,
        step,
        caption,
        bytes,
        byte_count: bytes.length,
        width,
        height,
      })
      .returning([...COLUMNS]);
    return toPhoto(rows[0]!, owner, ownerId);
  }

  async findBytes(id: string): Promise<Buffer | undefined> {
    const row = await this.database('photo').select<{ bytes: Buffer }[]>('bytes').where({ id }).first();
    return (row as { bytes: Buffer } | undefined)?.bytes;
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
