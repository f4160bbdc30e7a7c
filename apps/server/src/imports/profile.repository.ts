import { createHash } from 'node:crypto';
import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import { headerSignature } from '@ebrix/core/logs';
import type { MappingDto } from '@ebrix/contract';
import { KNEX } from '../database/database.module.js';

export interface LoggerProfile {
  readonly id: string;
  readonly name: string;
  readonly mapping: MappingDto;
}

/** How the columns of a known header are read. */
@Injectable()
export class ProfileRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async find(signature: string): Promise<LoggerProfile | undefined> {
    return this.database<LoggerProfile>('logger_profile')
      .select('id', 'name', 'mapping')
      .where({ signature_hash: hashOf(signature) } as object)
      .first();
  }

  /** The newest choice for a header counts. */
  async save(name: string, mapping: MappingDto, transaction: Knex): Promise<void> {
    const signature = headerSignature(mapping.columns.map(({ header }) => header));
    await transaction('logger_profile')
      .insert({ id: uuidv7(), name, signature, signature_hash: hashOf(signature), mapping: JSON.stringify(mapping) })
      .onConflict('signature_hash')
      .merge({ name, mapping: JSON.stringify(mapping), updated_at: transaction.fn.now() });
  }
}

/** Headers can be long; an index entry cannot. */
function hashOf(signature: string): string {
  return createHash('sha256').update(signature).digest('hex');
}
