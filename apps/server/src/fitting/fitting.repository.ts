import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import type { z } from 'zod';
import {
  fittingStepSchema,
  type FittingStep,
  type FittingTemplate,
  type saveFittingTemplateSchema,
} from '@ebrix/contract';
import { KNEX } from '../database/database.module.js';

export interface StoredFitting {
  readonly setupId: string;
  readonly version: number;
  readonly updatedAt: Date;
  readonly steps: readonly FittingStep[];
}
interface FittingRow {
  setup_id: string;
  version: number;
  updated_at: Date;
  steps: unknown;
}

@Injectable()
export class FittingRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async list(setupId?: string): Promise<StoredFitting[]> {
    const rows = await this.database<FittingRow>('fitting')
      .select('setup_id', 'version', 'updated_at', 'steps')
      .where(setupId === undefined ? {} : { setup_id: setupId });
    return (rows as FittingRow[]).map((row) => ({
      setupId: row.setup_id,
      version: row.version,
      updatedAt: row.updated_at,
      steps: fittingStepSchema.array().parse(row.steps),
    }));
  }

  /** False when another window stored meanwhile; version 0 is "nothing stored yet". */
  async save(setupId: string, version: number, steps: readonly FittingStep[]): Promise<boolean> {
    const values = { steps: JSON.stringify(steps), updated_at: this.database.fn.now() };
    if (version === 0) {
      const inserted = await this.database('fitting')
        .insert({ setup_id: setupId, ...values })
        .onConflict('setup_id')
        .ignore()
        .returning('setup_id');
      return inserted.length > 0;
    }
    const count = await this.database('fitting')
      .where({ setup_id: setupId, version })
      .update({ ...values, version: version + 1 });
    return count > 0;
  }

  async templates(): Promise<FittingTemplate[]> {
    const rows = await this.database('fitting_template')
      .select<(Omit<FittingTemplate, 'updatedAt'> & { updated_at: Date })[]>('id', 'name', 'steps', 'updated_at')
      .orderByRaw('lower(name)');
    return rows.map(({ updated_at, ...template }) => ({ ...template, updatedAt: updated_at.toISOString() }));
  }

  /** One of the same name is replaced where it is the one that was seen; else false. */
  async saveTemplate({ name, steps, seen }: z.output<typeof saveFittingTemplateSchema>): Promise<boolean> {
    const { rows } = await this.database.raw<{ rows: unknown[] }>(
      `insert into fitting_template (id, name, steps) values (?, ?, ?)
         on conflict (lower(name)) do update set name = excluded.name, steps = excluded.steps, updated_at = now()
         where date_trunc('milliseconds', fitting_template.updated_at) = ?::timestamptz
       returning id`,
      [uuidv7(), name, JSON.stringify(steps), seen],
    );
    return rows.length > 0;
  }

  async deleteTemplate(id: string): Promise<number> {
    return this.database('fitting_template').where({ id }).delete();
  }
}
