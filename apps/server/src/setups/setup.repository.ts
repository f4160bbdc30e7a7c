import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import type { Part, RevisionInput, Setup, SetupRevision } from '@ebrix/contract';
import { iso, isoOrNull } from '../common/row.js';
import { KNEX } from '../database/database.module.js';

/** The parts of a revision as they were when it was made. */
export interface RevisionParts {
  readonly bike: Part<'bikes'>;
  readonly kit: Part<'kits'>;
  readonly packs: readonly Part<'packs'>[];
}

interface RevisionRow {
  id: string;
  setup_id: string;
  number: number;
  settings: SetupRevision['settings'];
  change: string;
  parts: RevisionParts;
  created_at: Date;
  run_count: number;
}
interface SetupRow {
  id: string;
  version: number;
  updated_at: Date;
  archived_at: Date | null;
  name: string;
  notes: string;
}

@Injectable()
export class SetupRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async list(id?: string): Promise<Setup[]> {
    const filter = id === undefined ? {} : { id };
    const setups = await this.database<SetupRow>('setup')
      .select('id', 'version', 'updated_at', 'archived_at', 'name', 'notes')
      .where(filter)
      .orderByRaw('archived_at is not null, lower(name)');
    const ids = setups.map((row) => row.id);
    const revisions = await this.database<RevisionRow>('setup_revision as r')
      .select('r.id', 'r.setup_id', 'r.number', 'r.settings', 'r.change', 'r.parts', 'r.created_at')
      .select(this.database.raw('(select count(*)::int from run where run.setup_revision_id = r.id) as run_count'))
      .whereIn('r.setup_id', ids)
      .orderBy('r.number', 'desc');
    const trials = await this.database('trial_setup as ts')
      .join('setup_revision as r', 'r.id', 'ts.revision_id')
      .join('trial as t', 't.id', 'ts.trial_id')
      .distinct<{ setup_id: string; id: string; question: string }[]>('r.setup_id', 't.id', 't.question')
      .whereIn('r.setup_id', ids)
      .orderBy('t.question');
    return setups.map((row) => ({
      id: row.id,
      version: row.version,
      updatedAt: iso(row.updated_at),
      archivedAt: isoOrNull(row.archived_at),
      name: row.name,
      notes: row.notes,
      revisions: (revisions as unknown as RevisionRow[]).filter((r) => r.setup_id === row.id).map(toRevision),
      trials: trials
        .filter((t) => t.setup_id === row.id)
        .map(({ id: trialId, question }) => ({ id: trialId, question })),
    }));
  }

  async insert(name: string, notes: string, transaction: Knex): Promise<string> {
    const id = uuidv7();
    await transaction('setup').insert({ id, name, notes });
    return id;
  }

  async update(
    id: string,
    version: number,
    change: { name: string; notes: string } | { archived: boolean },
  ): Promise<boolean> {
    const values = 'archived' in change ? { archived_at: change.archived ? this.database.fn.now() : null } : change;
    const count = await this.database('setup')
      .where({ id, version })
      .update({ ...values, version: version + 1, updated_at: this.database.fn.now() });
    return count > 0;
  }

  async insertRevision(setupId: string, input: RevisionInput, parts: RevisionParts, transaction: Knex): Promise<void> {
    // The row lock keeps two windows from giving out the same number.
    const locked = await transaction('setup').where({ id: setupId }).update({ updated_at: transaction.fn.now() });
    if (locked === 0) return;
    const latest = await transaction('setup_revision')
      .where({ setup_id: setupId })
      .max<{ max: number | null }[]>('number as max');
    const id = uuidv7();
    await transaction('setup_revision').insert({
      id,
      setup_id: setupId,
      number: (latest[0]?.max ?? 0) + 1,
      bike_id: input.bikeId,
      kit_id: input.kitId,
      settings: JSON.stringify(input.settings),
      change: input.change,
      parts: JSON.stringify(parts),
    });
    await transaction('setup_revision_pack').insert(
      input.packIds.map((packId, position) => ({ revision_id: id, pack_id: packId, position })),
    );
  }

  async findRevisionParts(revisionId: string): Promise<RevisionParts | undefined> {
    const row = await this.database<RevisionRow>('setup_revision').select('parts').where({ id: revisionId }).first();
    return row?.parts;
  }

  async delete(id: string): Promise<number> {
    return this.database('setup').where({ id }).delete();
  }
}

function toRevision(row: RevisionRow): SetupRevision {
  const { bike, kit, packs } = row.parts;
  return {
    id: row.id,
    number: row.number,
    bike: { id: bike.id, name: bike.name },
    kit: { id: kit.id, name: kit.name },
    packs: packs.map(({ id, name }) => ({ id, name })),
    settings: row.settings,
    change: row.change,
    createdAt: iso(row.created_at),
    runCount: row.run_count,
  };
}
