import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import type { ImportFile, ImportStep, Inspection, MappingDto, PartOfOuting, RunAssignment } from '@ebrix/contract';
import { iso } from '../common/row.js';
import { KNEX } from '../database/database.module.js';
import { CHANGE_CHANNELS } from '../database/change-notifications.js';

export type ImportProblem = NonNullable<ImportFile['problem']>;
export interface ImportRow {
  id: string;
  file_name: string;
  sha256: string;
  byte_count: number;
  status: ImportFile['status'];
  step: ImportStep;
  inspection: Inspection | null;
  problem: ImportProblem | null;
  run_id: string | null;
  run_count: number;
  created_at: Date;
}
const SHOWN = [
  'id',
  'file_name',
  'sha256',
  'byte_count',
  'status',
  'step',
  'inspection',
  'problem',
  'run_id',
  'run_count',
  'created_at',
];
/** Finished files stay in the list of the import page this long. */
const SHOWN_FOR = "interval '1 day'";

@Injectable()
export class ImportRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async list(ids?: readonly string[]): Promise<ImportFile[]> {
    const query = this.database('import_file').select(SHOWN).orderBy('created_at').orderBy('id');
    if (ids) void query.whereIn('id', ids);
    else
      void query.whereRaw(
        `(status in ('staged','queued','working') or updated_at > now() - ${SHOWN_FOR}) and status <> 'cancelled'`,
      );
    return ((await query) as ImportRow[]).map(toImport);
  }

  async insert(file: {
    fileName: string;
    sha256: string;
    bytes: Uint8Array;
    status: 'staged' | 'refused' | 'known';
    inspection: Inspection | null;
    problem: ImportProblem | null;
    runId: string | null;
  }): Promise<ImportFile> {
    const rows: ImportRow[] = await this.database('import_file')
      .insert({
        id: uuidv7(),
        file_name: file.fileName,
        sha256: file.sha256,
        byte_count: file.bytes.length,
        // What cannot become a run need not be kept.
        bytes: file.status === 'staged' ? viewOf(file.bytes) : null,
        status: file.status,
        inspection: file.inspection && JSON.stringify(file.inspection),
        problem: file.problem && JSON.stringify(file.problem),
        run_id: file.runId,
      })
      .returning(SHOWN);
    return toImport(rows[0]!);
  }

  /** Staged or failed files become queued; gives back those that were not in such a state. */
  async enqueue(
    items: readonly {
      importId: string;
      mapping: MappingDto | null;
      assignment: RunAssignment;
      parts: readonly PartOfOuting[];
      profileName: string | null;
    }[],
    transaction: Knex,
  ): Promise<string[]> {
    const refused: string[] = [];
    for (const { importId, mapping, assignment, parts, profileName } of items) {
      const count = await transaction('import_file')
        .where({ id: importId })
        .whereIn('status', ['staged', 'failed'])
        .whereNotNull('bytes')
        .update({
          status: 'queued',
          step: 'waiting',
          leased_by: null,
          leased_until: null,
          problem: null,
          mapping: mapping && JSON.stringify(mapping),
          assignment: JSON.stringify(assignment),
          parts: JSON.stringify(parts),
          profile_name: profileName,
          updated_at: transaction.fn.now(),
        });
      if (count === 0) refused.push(importId);
    }
    return refused;
  }

  /** The file was made of a ride that the ride model rode. */
  async isOfSimulatedRide(id: string, transaction: Knex): Promise<boolean> {
    const rows = await transaction('import_file as f')
      .join('ride as r', 'r.id', 'f.ride_id')
      .select<{ is_simulated: boolean }[]>('r.is_simulated')
      .where('f.id', id);
    return rows.some(({ is_simulated: isSimulated }) => isSimulated);
  }

  /** With the ride that the file was made of, where it was recorded at the roadside. */
  async finish(id: string, runIds: readonly string[], status: 'done' | 'known', transaction: Knex): Promise<void> {
    const [runId] = runIds;
    const [row] = await transaction('import_file')
      .where({ id })
      .update({
        status,
        step: '',
        run_id: runId,
        run_count: runIds.length,
        bytes: null,
        updated_at: transaction.fn.now(),
      })
      .returning<{ ride_id: string | null }[]>('ride_id');
    const rideId = row?.ride_id ?? null;
    if (rideId === null) return;
    await transaction('ride').where({ id: rideId }).update({ run_id: runId, updated_at: transaction.fn.now() });
    await transaction.raw('select pg_notify(?, ?)', [CHANGE_CHANNELS.ride, rideId]);
  }

  /** A file that Ebrix wrote itself, of a ride at the roadside or out of a notebook: queued at once, out of sight of the import page until it fails. */
  async insertQueued(
    file: {
      fileName: string;
      sha256: string;
      bytes: Uint8Array;
      mapping: MappingDto | null;
      assignment: RunAssignment;
      rideId: string | null;
    },
    transaction: Knex,
  ): Promise<string> {
    const id = uuidv7();
    await transaction('import_file').insert({
      id,
      file_name: file.fileName,
      sha256: file.sha256,
      byte_count: file.bytes.length,
      bytes: viewOf(file.bytes),
      status: 'queued',
      step: 'waiting',
      mapping: file.mapping && JSON.stringify(file.mapping),
      assignment: JSON.stringify(file.assignment),
      ride_id: file.rideId,
    });
    return id;
  }

  async cancel(id: string): Promise<boolean> {
    const count = await this.database('import_file')
      .where({ id })
      .whereNotIn('status', ['cancelled'])
      .update({ status: 'cancelled', step: '', bytes: null, updated_at: this.database.fn.now() });
    await this.notify(id);
    return count > 0;
  }

  /** Bytes of a file that waits to be assigned; undefined when it waits no more. */
  async waiting(id: string): Promise<Buffer | undefined> {
    const row = await this.database<ImportRow & { bytes: Buffer | null }>('import_file')
      .select('bytes')
      .where({ id })
      .whereIn('status', ['staged', 'failed'])
      .first();
    return row?.bytes ?? undefined;
  }

  async unfinished(): Promise<string[]> {
    const rows = await this.database<ImportRow>('import_file').select('id').whereIn('status', ['queued', 'working']);
    return rows.map(({ id }) => id);
  }

  async notify(id: string): Promise<void> {
    await this.database.raw('select pg_notify(?, ?)', [CHANGE_CHANNELS.import, id]);
  }
}

/** The same memory, as the driver takes it. */
function viewOf({ buffer, byteOffset, byteLength }: Uint8Array): Buffer {
  return Buffer.from(buffer, byteOffset, byteLength);
}

function toImport(row: ImportRow): ImportFile {
  return {
    id: row.id,
    fileName: row.file_name,
    byteCount: row.byte_count,
    status: row.status,
    inspection: row.inspection && {
      ...row.inspection,
      startedAt: row.inspection.startedAt ?? null,
      longGaps: row.inspection.longGaps ?? [],
    },
    problem: row.problem,
    runId: row.run_id,
    runCount: row.run_count,
    step: row.step,
    createdAt: iso(row.created_at),
  };
}
