import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { fittingRecordSchema, type FittingRecordInput, type StoredFittingRecord } from '@ebrix/contract';
import { iso } from '../common/row.js';
import { KNEX } from '../database/database.module.js';

interface RecordRow {
  version: number | null;
  updated_at: Date | null;
  record: unknown;
}
const EMPTY: StoredFittingRecord = { version: 0, updatedAt: null, record: fittingRecordSchema.parse({}) };

@Injectable()
export class FittingRecordRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  /** Undefined when there is no such setup. */
  async get(setupId: string): Promise<StoredFittingRecord | undefined> {
    const row: unknown = await this.database('setup as s')
      .leftJoin('fitting_record as f', 'f.setup_id', 's.id')
      .where('s.id', setupId)
      .first('f.version', 'f.updated_at', 'f.record');
    if (row === undefined) return undefined;
    const stored = row as RecordRow;
    return stored.version === null || stored.updated_at === null
      ? EMPTY
      : {
          version: stored.version,
          updatedAt: iso(stored.updated_at),
          record: fittingRecordSchema.parse(stored.record),
        };
  }

  /** False when another window stored meanwhile; version 0 is "nothing stored yet". */
  async save(setupId: string, version: number, record: FittingRecordInput): Promise<boolean> {
    const values = { record: JSON.stringify(record), updated_at: this.database.fn.now() };
    const touched =
      version === 0
        ? await this.database('fitting_record')
            .insert({ setup_id: setupId, ...values })
            .onConflict('setup_id')
            .ignore()
            .returning('setup_id')
        : await this.database('fitting_record')
            .where({ setup_id: setupId, version })
            .update({ ...values, version: version + 1 })
            .returning('setup_id');
    return touched.length > 0;
  }
}
