import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import { standReadingsSchema, type Finding, type StandInput, type StandRecord } from '@ebrix/contract';
import { iso } from '../common/row.js';
import { KNEX } from '../database/database.module.js';

export type StoredStand = Omit<StandRecord, 'figures'> & { readonly settings: { wheelCircumferenceM?: number | null } };
interface StandRow {
  revision_id: string;
  number: number;
  settings: { wheelCircumferenceM?: number | null };
  version: number;
  day: string;
  signed_by: string;
  direction_right: boolean | null;
  spins_freely: boolean | null;
  brake_cuts: boolean | null;
  readings: unknown;
  note: string;
}
interface FindingRow {
  id: string;
  revision_id: string;
  number: number;
  symptom: string;
  suspect: string | null;
  cause: string;
  cure: string;
  signed_by: string;
  at: Date;
}

/** Stand tests and what trouble-shooting found, by revision. */
@Injectable()
export class StandRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async list(where: { setupId: string } | { revisionId: string }): Promise<StoredStand[]> {
    const rows = await this.database('stand_record as s')
      .join('setup_revision as r', 'r.id', 's.revision_id')
      .select<StandRow[]>(
        's.revision_id',
        'r.number',
        'r.settings',
        's.version',
        's.day',
        's.signed_by',
        's.direction_right',
        's.spins_freely',
        's.brake_cuts',
        's.readings',
        's.note',
      )
      .where('setupId' in where ? { 'r.setup_id': where.setupId } : { 'r.id': where.revisionId })
      .orderBy('r.number', 'desc');
    return rows.map((row) => ({
      revisionId: row.revision_id,
      revisionNumber: row.number,
      settings: row.settings,
      version: row.version,
      day: row.day,
      by: row.signed_by,
      directionRight: row.direction_right,
      spinsFreely: row.spins_freely,
      brakeCuts: row.brake_cuts,
      readings: standReadingsSchema.parse(row.readings),
      note: row.note,
    }));
  }

  /** False when another window stored meanwhile; version 0 is "nothing stored yet". */
  async save(revisionId: string, input: StandInput): Promise<boolean> {
    const values = {
      day: input.day,
      signed_by: input.by,
      direction_right: input.directionRight,
      spins_freely: input.spinsFreely,
      brake_cuts: input.brakeCuts,
      readings: JSON.stringify(input.readings),
      note: input.note,
      updated_at: this.database.fn.now(),
    };
    if (input.version === 0) {
      const inserted = await this.database('stand_record')
        .insert({ revision_id: revisionId, ...values })
        .onConflict('revision_id')
        .ignore()
        .returning('revision_id');
      return inserted.length > 0;
    }
    const count = await this.database('stand_record')
      .where({ revision_id: revisionId, version: input.version })
      .update({ ...values, version: input.version + 1 });
    return count > 0;
  }

  async findings(setupId: string): Promise<Finding[]> {
    const rows = await this.database('finding as f')
      .join('setup_revision as r', 'r.id', 'f.revision_id')
      .select<FindingRow[]>(
        'f.id',
        'f.revision_id',
        'r.number',
        'f.symptom',
        'f.suspect',
        'f.cause',
        'f.cure',
        'f.signed_by',
        'f.at',
      )
      .where({ 'r.setup_id': setupId })
      .orderBy('f.at', 'desc');
    return rows.map((row) => ({
      id: row.id,
      revisionId: row.revision_id,
      revisionNumber: row.number,
      symptom: row.symptom,
      suspect: row.suspect,
      cause: row.cause,
      cure: row.cure,
      by: row.signed_by,
      at: iso(row.at),
    }));
  }

  async insertFinding({ revisionId, by, ...finding }: Omit<Finding, 'at' | 'id' | 'revisionNumber'>): Promise<void> {
    await this.database('finding').insert({ id: uuidv7(), revision_id: revisionId, signed_by: by, ...finding });
  }

  async deleteFinding(setupId: string, id: string): Promise<number> {
    return this.database('finding')
      .where({ id })
      .whereIn('revision_id', this.database('setup_revision').select('id').where({ setup_id: setupId }))
      .delete();
  }
}
