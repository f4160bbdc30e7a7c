import { isDeepStrictEqual } from 'node:util';
import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { partInputSchemas, type Part, type PartImport, type PartInput, type PartKind } from '@ebrix/contract';
import { DomainError, notFound } from '../common/domain-error.js';
import { KNEX } from '../database/database.module.js';
import { fromCsv, toCsv } from './part-csv.js';
import { PartsRepository } from './parts.repository.js';

@Injectable()
export class PartsService {
  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly parts: PartsRepository,
  ) {}

  list<K extends PartKind>(kind: K): Promise<Part<K>[]> {
    return this.parts.list(kind);
  }

  add<K extends PartKind>(kind: K, input: PartInput<K>): Promise<Part<K>> {
    return this.parts.insert(kind, input);
  }

  async change<K extends PartKind>(
    kind: K,
    id: string,
    version: number,
    change: PartInput<K> | { archived: boolean },
  ): Promise<Part<K>> {
    const changed = await this.parts.update(kind, id, version, change);
    if (changed) return changed;
    const current = await this.parts.find(kind, id);
    if (!current) throw notFound('This part');
    throw changedMeanwhile(current);
  }

  async csv(kind: PartKind): Promise<string> {
    return toCsv(kind, await this.parts.list(kind));
  }

  /** Adds and changes parts by their names, all rows or none. */
  async importCsv<K extends PartKind>(kind: K, text: string): Promise<PartImport> {
    const rows = fromCsv(kind, text);
    return this.database.transaction(async (transaction) => {
      const stored = new Map((await this.parts.list(kind, transaction)).map((part) => [part.name.toLowerCase(), part]));
      const counts = { added: 0, changed: 0, unchanged: 0 };
      for (const { input } of rows) {
        const known = stored.get(input.name.toLowerCase());
        if (!known) {
          await this.parts.insert(kind, input, transaction);
          counts.added++;
        } else if (isSamePart(kind, known, input)) counts.unchanged++;
        else {
          await this.parts.update(kind, known.id, known.version, input, transaction);
          counts.changed++;
        }
      }
      return counts;
    });
  }

  /** Fails: `changed-meanwhile` where it is not the version that was seen. */
  async remove(kind: PartKind, id: string, version: number | undefined): Promise<void> {
    if ((await this.parts.delete(kind, id, version)) === 0) throw notFound('This part');
  }
}

/** Whether a stored part says the same as what was written, identity and dates apart. */
export function isSamePart<K extends PartKind>(kind: K, stored: Part<K>, input: PartInput<K>): boolean {
  const own = Object.fromEntries(
    Object.keys(partInputSchemas[kind].shape).map((field) => [field, stored[field as keyof Part<K>]]),
  );
  return isDeepStrictEqual(own, { ...input });
}

export function changedMeanwhile(current: unknown): DomainError {
  return new DomainError(
    'changed-meanwhile',
    'It was changed in another window meanwhile. What you typed is still here; compare it with the saved version and save again.',
    { current },
  );
}
