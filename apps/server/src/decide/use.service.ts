import { Injectable } from '@nestjs/common';
import type { UseDto, UseInput } from '@ebrix/contract';
import { changedMeanwhile } from '../bench/parts.service.js';
import { DomainError, notFound } from '../common/domain-error.js';
import { UseRepository } from './use.repository.js';

@Injectable()
export class UseService {
  constructor(private readonly uses: UseRepository) {}

  list(): Promise<UseDto[]> {
    return this.uses.list();
  }

  async get(id: string): Promise<UseDto> {
    const [use] = await this.uses.list(id);
    if (!use) throw notFound('This use');
    return use;
  }

  async add(input: UseInput): Promise<UseDto> {
    await this.refuseTwice(input.name);
    return this.get(await this.uses.insert(input));
  }

  async change(id: string, version: number, change: UseInput | { archived: boolean }): Promise<UseDto> {
    const name = 'archived' in change ? (await this.get(id)).name : change.name;
    if (!('archived' in change) || !change.archived) await this.refuseTwice(name, id);
    const isChanged = await this.uses.update(id, version, change);
    const current = await this.get(id);
    if (!isChanged) throw changedMeanwhile(current);
    return current;
  }

  /** Fails: `changed-meanwhile` where it is not the version that was seen. */
  async remove(id: string, version: number | undefined): Promise<void> {
    if ((await this.uses.delete(id, version)) === 0) throw notFound('This use');
  }

  private async refuseTwice(name: string, exceptId?: string): Promise<void> {
    if (await this.uses.hasName(name, exceptId))
      throw new DomainError('already-there', `There is a use called “${name}” already: choose another name.`);
  }
}
