import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import type { z } from 'zod';
import type { newSetupSchema, RevisionInput, Setup } from '@ebrix/contract';
import { PartsRepository } from '../bench/parts.repository.js';
import { changedMeanwhile } from '../bench/parts.service.js';
import { notFound } from '../common/domain-error.js';
import { KNEX } from '../database/database.module.js';
import { SetupRepository, type RevisionParts } from './setup.repository.js';

@Injectable()
export class SetupService {
  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly setups: SetupRepository,
    private readonly parts: PartsRepository,
  ) {}

  list(): Promise<Setup[]> {
    return this.setups.list();
  }

  async get(id: string): Promise<Setup> {
    const [setup] = await this.setups.list(id);
    if (!setup) throw notFound('This setup');
    return setup;
  }

  async add({ name, notes, revision }: z.output<typeof newSetupSchema>): Promise<Setup> {
    const parts = await this.partsOf(revision);
    const id = await this.database.transaction(async (transaction) => {
      const setupId = await this.setups.insert(name, notes, transaction);
      await this.setups.insertRevision(setupId, revision, parts, transaction);
      return setupId;
    });
    return this.get(id);
  }

  async addRevision(id: string, revision: RevisionInput): Promise<Setup> {
    const parts = await this.partsOf(revision);
    await this.database.transaction((transaction) => this.setups.insertRevision(id, revision, parts, transaction));
    return this.get(id);
  }

  async change(
    id: string,
    version: number,
    change: { name: string; notes: string } | { archived: boolean },
  ): Promise<Setup> {
    const isChanged = await this.setups.update(id, version, change);
    const current = await this.get(id);
    if (!isChanged) throw changedMeanwhile(current);
    return current;
  }

  async remove(id: string): Promise<void> {
    if ((await this.setups.delete(id)) === 0) throw notFound('This setup');
  }

  private async partsOf({ bikeId, kitId, packIds }: RevisionInput): Promise<RevisionParts> {
    const [bike, kit, ...packs] = await Promise.all([
      this.parts.find('bikes', bikeId),
      this.parts.find('kits', kitId),
      ...packIds.map((id) => this.parts.find('packs', id)),
    ]);
    if (!bike) throw notFound('The chosen bike');
    if (!kit) throw notFound('The chosen kit');
    return {
      bike,
      kit,
      packs: packs.map((pack) => {
        if (!pack) throw notFound('A chosen pack');
        return pack;
      }),
    };
  }
}
