import { Injectable } from '@nestjs/common';
import type { Part, PartInput, PartKind } from '@ebrix/contract';
import { DomainError, notFound } from '../common/domain-error.js';
import { PartsRepository } from './parts.repository.js';

@Injectable()
export class PartsService {
  constructor(private readonly parts: PartsRepository) {}

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

  async remove(kind: PartKind, id: string): Promise<void> {
    if ((await this.parts.delete(kind, id)) === 0) throw notFound('This part');
  }
}

export function changedMeanwhile(current: unknown): DomainError {
  return new DomainError(
    'changed-meanwhile',
    'It was changed in another window meanwhile. What you typed is still here; compare it with the stored one and save again.',
    { current },
  );
}
