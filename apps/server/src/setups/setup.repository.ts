import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import {
  revisionPartsSchema,
  setupFitSchema,
  setupSettingsSchema,
  type RevisionDetail,
  type RevisionInput,
  type RevisionParts,
  type Setup,
} from '@ebrix/contract';
import { DomainError } from '../common/domain-error.js';
import { iso, isoOrNull } from '../common/row.js';
import { KNEX } from '../database/database.module.js';
import { deleteSeen } from '../database/delete-seen.js';
import type { StoredFacts } from './revision-facts.js';

interface RevisionRow {
  id: string;
  setup_id: string;
  number: number;
  settings: unknown;
  fit: unknown;
  change: string;
  why: string;
  parts: unknown;
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
/** A setup before anything about it was judged. */
export type StoredSetup = Omit<Setup, 'clearance' | 'revisions'> & {
  readonly revisions: readonly Omit<RevisionDetail, 'marks'>[];
};

@Injectable()
export class SetupRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async list(id?: string): Promise<StoredSetup[]> {
    const setups = await this.database<SetupRow>('setup')
      .select('id', 'version', 'updated_at', 'archived_at', 'name', 'notes')
      .where(id === undefined ? {} : { id })
      .orderByRaw('archived_at is not null, lower(name)');
    const ids = setups.map((row) => row.id);
    const revisions = await this.database<RevisionRow>('setup_revision as r')
      .select(
        'r.id',
        'r.setup_id',
        'r.number',
        'r.settings',
        'r.fit',
        'r.change',
        'r.why',
        'r.parts',
        'r.created_at',
        this.database.raw(
          '(select count(*)::int from run where run.setup_revision_id = r.id and run.deleted_at is null) as run_count',
        ),
      )
      .whereIn('r.setup_id', ids)
      .orderBy('r.number', 'desc');
    const trials = await this.database('trial_setup as ts')
      .join('setup_revision as r', 'r.id', 'ts.revision_id')
      .join('trial as t', 't.id', 'ts.trial_id')
      .distinct<{ setup_id: string; id: string; question: string }[]>('r.setup_id', 't.id', 't.question')
      .whereIn('r.setup_id', ids)
      .orderBy('t.question');
    const revisionsOf = new Map(ids.map((setupId): [string, RevisionRow[]] => [setupId, []]));
    for (const revision of revisions as unknown as RevisionRow[]) revisionsOf.get(revision.setup_id)!.push(revision);
    const trialsOf = new Map(ids.map((setupId): [string, { id: string; question: string }[]] => [setupId, []]));
    for (const { setup_id: setupId, id: trialId, question } of trials)
      trialsOf.get(setupId)!.push({ id: trialId, question });
    return setups.map((row) => ({
      id: row.id,
      version: row.version,
      updatedAt: iso(row.updated_at),
      archivedAt: isoOrNull(row.archived_at),
      name: row.name,
      notes: row.notes,
      revisions: revisionsOf.get(row.id)!.map(toRevision),
      trials: trialsOf.get(row.id)!,
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

  /** Fails: `revised-meanwhile` when another revision was added since the one this is based on. */
  async insertRevision(
    setupId: string,
    input: RevisionInput,
    parts: RevisionParts,
    transaction: Knex,
  ): Promise<{ id: string; before: string | undefined } | undefined> {
    // The row lock keeps two windows from giving out the same number.
    const locked = await transaction('setup').where({ id: setupId }).update({ updated_at: transaction.fn.now() });
    if (locked === 0) return undefined;
    const before = await transaction('setup_revision')
      .where({ setup_id: setupId })
      .orderBy('number', 'desc')
      .first<{ id: string; number: number } | undefined>('id', 'number');
    const last = before?.number ?? 0;
    if (input.basedOn !== null && input.basedOn !== last) throw new RevisedMeanwhile(last);
    const id = uuidv7();
    await transaction('setup_revision').insert({
      id,
      setup_id: setupId,
      number: last + 1,
      bike_id: input.bikeId,
      kit_id: input.kitId,
      charger_id: input.chargerId,
      limits_id: input.limitsId,
      settings: JSON.stringify(input.settings),
      fit: JSON.stringify(input.fit),
      change: input.change,
      why: input.why,
      parts: JSON.stringify(parts),
    });
    if (input.packIds.length > 0)
      await transaction('setup_revision_pack').insert(
        input.packIds.map((packId, position) => ({ revision_id: id, pack_id: packId, position })),
      );
    if (input.addOnIds.length > 0)
      await transaction('setup_revision_add_on').insert(
        input.addOnIds.map((addOnId, position) => ({ revision_id: id, add_on_id: addOnId, position })),
      );
    return { id, before: before?.id };
  }

  async findFacts(revisionIds: readonly string[]): Promise<ReadonlyMap<string, StoredFacts>> {
    const rows = await this.database<RevisionRow>('setup_revision')
      .select('id', 'parts', 'settings', 'fit')
      .whereIn('id', [...revisionIds]);
    return new Map((rows as RevisionRow[]).map((row) => [row.id, factsOf(row)]));
  }

  async findSetupOf(revisionId: string): Promise<string | undefined> {
    const row = await this.database('setup_revision')
      .select<{ setup_id: string }[]>('setup_id')
      .where({ id: revisionId })
      .first();
    return row?.setup_id;
  }

  delete(id: string, version: number | undefined): Promise<number> {
    return deleteSeen(this.database, 'setup', id, version);
  }
}

/** Another window added revision `latest`; the service tells it with that revision. */
export class RevisedMeanwhile extends DomainError {
  constructor(readonly latest: number) {
    super(
      'changed-meanwhile',
      `Revision ${latest} was saved in another window meanwhile. What you chose is still here: look at the differences and decide.`,
    );
  }
}

/** Revisions keep what was known on their day; fields that came later are unknown in them. */
function factsOf({ parts, settings, fit }: Pick<RevisionRow, 'fit' | 'parts' | 'settings'>): StoredFacts {
  return {
    parts: revisionPartsSchema.parse(parts),
    settings: setupSettingsSchema.parse(settings),
    fit: setupFitSchema.parse(fit),
  };
}

function toRevision(row: RevisionRow): Omit<RevisionDetail, 'marks'> {
  const facts = factsOf(row);
  const { bike, kit, packs } = facts.parts;
  return {
    id: row.id,
    number: row.number,
    bike: { id: bike.id, name: bike.name },
    kit: kit && { id: kit.id, name: kit.name },
    packs: packs.map(({ id, name }) => ({ id, name })),
    ...facts,
    change: row.change,
    why: row.why,
    createdAt: iso(row.created_at),
    runCount: row.run_count,
  };
}
