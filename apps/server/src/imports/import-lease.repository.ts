import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import type { ImportStep, MappingDto, PartOfOuting, RunAssignment } from '@ebrix/contract';
import { CHANGE_CHANNELS } from '../database/change-notifications.js';
import { KNEX } from '../database/database.module.js';
import { ImportRepository, type ImportProblem, type ImportRow } from './import.repository.js';

export interface ClaimedImport {
  readonly id: string;
  readonly fileName: string;
  readonly sha256: string;
  readonly byteCount: number;
  readonly mapping: MappingDto | null;
  readonly assignment: RunAssignment;
  readonly parts: readonly PartOfOuting[];
}

/** How long a process may be silent before another takes its file; renewed far more often. */
const LEASE_S = 20;
const PIECE_BYTES = 16 * 1024 * 1024;

/** Files as a worker holds them: taken, renewed, given back, failed. */
@Injectable()
export class ImportLeaseRepository {
  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly imports: ImportRepository,
  ) {}

  /**
   * Takes a file to work on, for as long as the lease is renewed: nobody else takes it meanwhile, and when this process ends
   * without a word it lapses. `leased` while another works on it; undefined when nothing of it is to be done.
   */
  async claim(id: string, holder: string): Promise<ClaimedImport | 'leased' | undefined> {
    const [row] = await this.database('import_file')
      .where({ id })
      .where((query) => {
        void query
          .where({ status: 'queued' })
          .orWhere((inner) => void inner.where({ status: 'working' }).whereRaw('leased_until < clock_timestamp()'));
      })
      .update({
        status: 'working',
        step: 'reading',
        leased_by: holder,
        leased_until: this.leaseEnd(),
        updated_at: this.database.fn.now(),
      })
      .returning<
        {
          id: string;
          file_name: string;
          sha256: string;
          byte_count: number;
          mapping: MappingDto | null;
          assignment: RunAssignment;
          parts: PartOfOuting[];
        }[]
      >(['id', 'file_name', 'sha256', 'byte_count', 'mapping', 'assignment', 'parts']);
    if (!row) {
      const { status } = (await this.database<ImportRow>('import_file').select('status').where({ id }).first()) ?? {};
      return status === 'working' ? 'leased' : undefined;
    }
    await this.imports.notify(id);
    return {
      id: row.id,
      fileName: row.file_name,
      sha256: row.sha256,
      byteCount: row.byte_count,
      mapping: row.mapping,
      assignment: row.assignment,
      parts: row.parts,
    };
  }

  /**
   * The bytes of a file, in memory of their own that may be handed to a thread; undefined when it waits no more. They come in pieces: the driver holds
   * each twice more, as text, while it unpacks it.
   */
  async bytesOf({ id, byteCount }: ClaimedImport): Promise<Uint8Array<ArrayBuffer> | undefined> {
    const bytes = new Uint8Array(byteCount);
    for (let from = 0; from < byteCount; from += PIECE_BYTES) {
      const rows = await this.database('import_file')
        .where({ id })
        .select<{ piece: Buffer | null }[]>(
          this.database.raw('substring(bytes from ? for ?) as piece', [from + 1, PIECE_BYTES]),
        );
      const piece = rows[0]?.piece;
      if (!piece) return undefined;
      bytes.set(piece, from);
    }
    return bytes;
  }

  async renewLease(id: string, holder: string): Promise<void> {
    await this.database('import_file')
      .where({ id, status: 'working', leased_by: holder })
      .update({ leased_until: this.leaseEnd() });
  }

  /** Back to waiting, for whoever is free next. */
  async release(id: string, holder: string): Promise<void> {
    await this.database('import_file')
      .where({ id, status: 'working', leased_by: holder })
      .update({ status: 'queued', step: 'waiting', leased_by: null, leased_until: null });
    await this.imports.notify(id);
  }

  private leaseEnd(): Knex.Raw {
    return this.database.raw(`clock_timestamp() + interval '${LEASE_S} seconds'`);
  }

  async setStep(id: string, step: ImportStep): Promise<void> {
    await this.database('import_file')
      .where({ id, status: 'working' })
      .update({ step, updated_at: this.database.fn.now() });
    await this.imports.notify(id);
  }

  async fail(id: string, holder: string, problem: ImportProblem): Promise<void> {
    await this.database('import_file')
      .where({ id, status: 'working', leased_by: holder })
      .update({ status: 'failed', step: '', problem: JSON.stringify(problem), updated_at: this.database.fn.now() });
    await this.imports.notify(id);
    await this.database.raw(
      'select pg_notify(?, ride_id::text) from import_file where id = ? and ride_id is not null',
      [CHANGE_CHANNELS.ride, id],
    );
  }

  /** Holds the row for the rest of the transaction; false when the import was cancelled, is done or went to another process. */
  async lockWorking(id: string, holder: string, transaction: Knex): Promise<boolean> {
    const row = await transaction<ImportRow & { leased_by: string | null }>('import_file')
      .select('status', 'leased_by')
      .where({ id })
      .forUpdate()
      .first();
    return row?.status === 'working' && row.leased_by === holder;
  }
}
