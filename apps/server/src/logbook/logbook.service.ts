import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { addDays } from '@ebrix/core/life';
import type {
  Conversion,
  ConversionInput,
  EntriesPage,
  EntryInput,
  LogbookSettings,
  LogEntry,
  Subject,
} from '@ebrix/contract';
import { changedMeanwhile } from '../bench/parts.service.js';
import { Clock } from '../common/clock.js';
import { DomainError, notFound } from '../common/domain-error.js';
import { KNEX } from '../database/database.module.js';
import { ConversionRepository } from './conversion.repository.js';
import { EntryRepository, type EntriesAsked } from './entry.repository.js';
import { LogbookSettingsRepository } from './logbook-settings.repository.js';

const SUBJECT_TABLE = { setup: 'setup', bike: 'bike', conversion: 'conversion' } as const;
const SUBJECT_WORDS = { setup: 'This setup', bike: 'This bike', conversion: 'This conversion' } as const;

/** What is written down of bikes in use, the conversions out of sight, and the intervals. */
@Injectable()
export class LogbookService {
  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly entries: EntryRepository,
    private readonly conversionRows: ConversionRepository,
    private readonly settingsRow: LogbookSettingsRepository,
    private readonly clock: Clock,
  ) {}

  async page(asked: EntriesAsked): Promise<EntriesPage> {
    const found = await this.entries.page({ ...asked, limit: asked.limit + 1 });
    const entries = found.slice(0, asked.limit);
    const last = entries.at(-1);
    return { entries, next: found.length > asked.limit && last ? `${last.day} ${last.id}` : null };
  }

  /** All or none. What had come in before, by id or from the same finding, is counted and passed over. */
  async add(entries: readonly EntryInput[]): Promise<{ stored: number; already: number }> {
    for (const { day } of entries) this.refuseFuture(day);
    const stored = await this.database.transaction(async (transaction) => {
      await this.requireSubjects(entries, transaction);
      return this.entries.insert(entries, transaction);
    });
    return { stored, already: entries.length - stored };
  }

  async change(id: string, version: number, entry: Omit<EntryInput, 'id'>): Promise<LogEntry> {
    this.refuseFuture(entry.day);
    await this.requireSubjects([entry], this.database);
    const isChanged = await this.entries.update(id, version, entry);
    const current = await this.entries.find(id);
    if (!current) throw notFound('This entry');
    if (!isChanged) throw changedMeanwhile(current);
    return current;
  }

  async remove(id: string, version: number): Promise<void> {
    if (await this.entries.delete(id, version)) return;
    const current = await this.entries.find(id);
    if (!current) throw notFound('This entry');
    throw changedMeanwhile(current);
  }

  conversions(): Promise<Conversion[]> {
    return this.conversionRows.list();
  }

  async conversion(id: string): Promise<Conversion> {
    const [found] = await this.conversionRows.list(id);
    if (!found) throw notFound('This conversion');
    return found;
  }

  async addConversion(input: ConversionInput): Promise<Conversion> {
    if (input.kmOn !== null) this.refuseFuture(input.kmOn);
    await this.refuseTwice(input.name);
    return this.conversion(await this.conversionRows.insert(input));
  }

  async changeConversion(
    id: string,
    version: number,
    change: ConversionInput | { archived: boolean },
  ): Promise<Conversion> {
    if ('name' in change) {
      if (change.kmOn !== null) this.refuseFuture(change.kmOn);
      await this.refuseTwice(change.name, id);
    } else if (!change.archived) await this.refuseTwice((await this.conversion(id)).name, id);
    const isChanged = await this.conversionRows.update(id, version, change);
    const current = await this.conversion(id);
    if (!isChanged) throw changedMeanwhile(current);
    return current;
  }

  settings(): Promise<LogbookSettings> {
    return this.settingsRow.get();
  }

  async saveSettings(settings: LogbookSettings): Promise<LogbookSettings> {
    if (!(await this.settingsRow.save(settings))) throw changedMeanwhile(await this.settings());
    return this.settings();
  }

  private async refuseTwice(name: string, exceptId?: string): Promise<void> {
    if (await this.conversionRows.hasName(name, exceptId))
      throw new DomainError('already-there', `There is a conversion called “${name}” already: choose another name.`);
  }

  /** One day of grace: it may be tomorrow already where the tester is. */
  private refuseFuture(day: string): void {
    const tomorrow = addDays(this.clock.now().toISOString().slice(0, 10), 1);
    if (day > tomorrow)
      throw new DomainError('invalid-request', `${day} is still to come. Check the year and the day.`);
  }

  private async requireSubjects(entries: readonly { readonly subject: Subject }[], transaction: Knex): Promise<void> {
    for (const kind of ['setup', 'bike', 'conversion'] as const) {
      const ids = [...new Set(entries.filter(({ subject }) => subject.kind === kind).map(({ subject }) => subject.id))];
      if (ids.length === 0) continue;
      const rows = await transaction(SUBJECT_TABLE[kind]).select<{ id: string }[]>('id').whereIn('id', ids);
      if (rows.length < ids.length) throw notFound(SUBJECT_WORDS[kind]);
    }
  }
}
