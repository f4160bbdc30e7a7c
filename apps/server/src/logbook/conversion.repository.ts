import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import type { Conversion, ConversionInput } from '@ebrix/contract';
import { iso, isoOrNull } from '../common/row.js';
import { KNEX } from '../database/database.module.js';

interface ConversionRow {
  id: string;
  name: string;
  kit: string;
  motor_kind: Conversion['motorKind'];
  pack: string;
  used_for: string;
  fitted_on: string | null;
  km: number | null;
  km_on: string | null;
  notes: string;
  version: number;
  updated_at: Date;
  archived_at: Date | null;
}

/** Conversions that are out of sight: one line each. */
@Injectable()
export class ConversionRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async list(id?: string): Promise<Conversion[]> {
    const rows = await this.database<ConversionRow>('conversion')
      .where(id === undefined ? {} : { id })
      .orderByRaw('archived_at is not null, lower(name)');
    return rows.map((row) => ({
      id: row.id,
      version: row.version,
      updatedAt: iso(row.updated_at),
      archivedAt: isoOrNull(row.archived_at),
      name: row.name,
      kit: row.kit,
      motorKind: row.motor_kind,
      pack: row.pack,
      use: row.used_for,
      fittedOn: row.fitted_on,
      km: row.km,
      kmOn: row.km_on,
      notes: row.notes,
    }));
  }

  async insert(input: ConversionInput): Promise<string> {
    const id = uuidv7();
    await this.database('conversion').insert({ id, ...toRow(input) });
    return id;
  }

  /** False when another window stored meanwhile. */
  async update(id: string, version: number, change: ConversionInput | { archived: boolean }): Promise<boolean> {
    const values =
      'archived' in change ? { archived_at: change.archived ? this.database.fn.now() : null } : toRow(change);
    const count = await this.database('conversion')
      .where({ id, version })
      .update({ ...values, version: version + 1, updated_at: this.database.fn.now() });
    return count > 0;
  }

  async hasName(name: string, exceptId?: string): Promise<boolean> {
    const query = this.database('conversion').whereRaw('lower(name) = lower(?)', [name]).whereNull('archived_at');
    if (exceptId !== undefined) void query.whereNot({ id: exceptId });
    return ((await query.first('id')) as unknown) !== undefined;
  }
}

function toRow({ name, kit, motorKind, pack, use, fittedOn, km, kmOn, notes }: ConversionInput): object {
  return {
    name,
    kit,
    motor_kind: motorKind,
    pack,
    used_for: use,
    fitted_on: fittedOn,
    km,
    km_on: kmOn,
    notes,
  };
}
