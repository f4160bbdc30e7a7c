import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import {
  partInputSchemas,
  setupFileSchema,
  type Part,
  type PartInput,
  type PartKind,
  type SetupDetail,
  type SetupFile,
} from '@ebrix/contract';
import { PartsRepository } from '../bench/parts.repository.js';
import { isSamePart } from '../bench/parts.service.js';
import { nextName } from '../common/next-name.js';
import { DomainError } from '../common/domain-error.js';
import { KNEX } from '../database/database.module.js';
import { SetupService } from './setup.service.js';

const SHOWN_PROBLEMS = 5;

/** A setup with all its parts as one JSON file, out and in. */
@Injectable()
export class SetupFileService {
  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly setups: SetupService,
    private readonly parts: PartsRepository,
  ) {}

  async export(id: string): Promise<SetupFile> {
    const { name, notes, revisions } = await this.setups.get(id);
    const { parts, settings, fit, change, why } = revisions[0]!;
    return {
      format: 'ebrix-setup',
      formatVersion: 1,
      name,
      notes,
      change,
      why,
      settings,
      fit,
      bike: bare('bikes', parts.bike),
      kit: parts.kit && bare('kits', parts.kit),
      packs: parts.packs.map((pack) => bare('packs', pack)),
      charger: parts.charger && bare('chargers', parts.charger),
      addOns: parts.addOns.map((addOn) => bare('add-ons', addOn)),
      limits: parts.limits && bare('limits', parts.limits),
    };
  }

  /** Adds the setup; parts that are there already with the same content are used, others added under a free name. All or nothing. */
  async import(text: string): Promise<SetupDetail> {
    const file = readSetupFile(text);
    const id = await this.database.transaction(async (transaction) => {
      const ids = async <K extends PartKind>(kind: K, inputs: readonly PartInput<K>[]): Promise<string[]> => {
        const list: string[] = [];
        for (const input of inputs) list.push(await this.ensure(kind, input, transaction));
        return list;
      };
      const [bikeId] = await ids('bikes', [file.bike]);
      const [kitId] = await ids('kits', file.kit ? [file.kit] : []);
      const [chargerId] = await ids('chargers', file.charger ? [file.charger] : []);
      const [limitsId] = await ids('limits', file.limits ? [file.limits] : []);
      return this.setups.insert(
        {
          name: await this.freeName('setup', file.name, transaction),
          notes: file.notes,
          revision: {
            bikeId: bikeId!,
            kitId: kitId ?? null,
            packIds: await ids('packs', file.packs),
            chargerId: chargerId ?? null,
            addOnIds: await ids('add-ons', file.addOns),
            limitsId: limitsId ?? null,
            settings: file.settings,
            fit: file.fit,
            change: file.change,
            why: file.why,
            isRefitted: false,
            basedOn: null,
          },
        },
        transaction,
      );
    });
    return this.setups.get(id);
  }

  private async ensure<K extends PartKind>(kind: K, input: PartInput<K>, transaction: Knex): Promise<string> {
    const stored = (await this.parts.list(kind, transaction)).filter(({ archivedAt }) => archivedAt === null);
    const same = stored.find(
      (part) => isSamePart(kind, part, { ...input, name: part.name }) && isNamedLike(part.name, input.name),
    );
    if (same) return same.id;
    const taken = new Set(stored.map(({ name }) => name.toLowerCase()));
    return (await this.parts.insert(kind, { ...input, name: nextName(input.name, taken) }, transaction)).id;
  }

  private async freeName(table: 'setup', name: string, transaction: Knex): Promise<string> {
    const rows = await transaction(table).select<{ name: string }[]>('name').whereNull('archived_at');
    return nextName(name, new Set(rows.map((row) => row.name.toLowerCase())));
  }
}

/** A part that was added under a free name before is the same part when it comes again. */
function isNamedLike(stored: string, wanted: string): boolean {
  return stored === wanted || stored.replace(/ \(\d+\)$/, '') === wanted;
}

function bare<K extends PartKind>(kind: K, part: Part<K>): PartInput<K> {
  return Object.fromEntries(
    Object.keys(partInputSchemas[kind].shape).map((field) => [field, part[field as keyof Part<K>]]),
  ) as PartInput<K>;
}

/** Fails: `cannot-read` with the place of everything that is wrong. */
export function readSetupFile(text: string): SetupFile {
  let json: unknown;
  try {
    json = JSON.parse(text.replace(/^\ufeff/, ''));
  } catch (error) {
    throw new DomainError(
      'cannot-read',
      `The file is not valid JSON: ${error instanceof Error ? error.message : 'it breaks off'}. Nothing was stored.`,
    );
  }
  const parsed = setupFileSchema.safeParse(json);
  if (parsed.success) return parsed.data;
  const issues = parsed.error.issues.map(({ path, message }) => ({ path: path.join('.'), message }));
  const shown = issues.slice(0, SHOWN_PROBLEMS).map(({ path, message }) => (path ? `${path}: ${message}` : message));
  throw new DomainError(
    'cannot-read',
    `The setup file cannot be taken. ${shown.join(' ')}${issues.length > SHOWN_PROBLEMS ? ` And ${issues.length - SHOWN_PROBLEMS} more.` : ''} Nothing was stored.`,
    { issues: issues.slice(0, 100) },
  );
}
