import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import type { z } from 'zod';
import { carriedMarks, checkSetup, clearanceItems, PAST_RIDES, type Mark } from '@ebrix/core/bench';
import {
  partIdsOf,
  type Clearance,
  type MarkInput,
  type newSetupSchema,
  type Part,
  type PartKind,
  type RevisionInput,
  type RevisionParts,
  type Setup,
  type SetupDetail,
  type Unmark,
} from '@ebrix/contract';
import { PartsRepository } from '../bench/parts.repository.js';
import { changedMeanwhile } from '../bench/parts.service.js';
import { DomainError, notFound } from '../common/domain-error.js';
import { KNEX } from '../database/database.module.js';
import { MarkRepository } from './mark.repository.js';
import { clearanceOf, toFacts } from './revision-facts.js';
import { RevisedMeanwhile, SetupRepository, type StoredSetup } from './setup.repository.js';

@Injectable()
export class SetupService {
  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly setups: SetupRepository,
    private readonly parts: PartsRepository,
    private readonly marks: MarkRepository,
  ) {}

  async list(): Promise<Setup[]> {
    const stored = await this.setups.list();
    const marks = await this.marks.listOf(stored.map(({ revisions }) => revisions[0]!.id));
    return stored.map((setup) => ({
      ...setup,
      revisions: setup.revisions.map(({ parts: _parts, fit: _fit, ...revision }) => revision),
      clearance: latestClearance(setup, marks),
    }));
  }

  async get(id: string): Promise<SetupDetail> {
    const [setup] = await this.setups.list(id);
    if (!setup) throw notFound('This setup');
    const marks = await this.marks.listOf(setup.revisions.map((revision) => revision.id));
    return {
      ...setup,
      revisions: setup.revisions.map((revision) => ({ ...revision, marks: [...(marks.get(revision.id) ?? [])] })),
      clearance: latestClearance(setup, marks),
    };
  }

  async add({ name, notes, revision }: z.output<typeof newSetupSchema>): Promise<SetupDetail> {
    const id = await this.database.transaction((transaction) => this.insert({ name, notes, revision }, transaction));
    return this.get(id);
  }

  /** For callers that store more in the same transaction. */
  async insert(
    { name, notes, revision }: z.output<typeof newSetupSchema>,
    transaction: Knex.Transaction,
  ): Promise<string> {
    const parts = await this.partsOf(revision, transaction);
    const setupId = await this.setups.insert(name, notes, transaction);
    await this.setups.insertRevision(setupId, { ...revision, basedOn: null }, parts, transaction);
    return setupId;
  }

  async addRevision(id: string, revision: RevisionInput): Promise<SetupDetail> {
    try {
      await this.database.transaction(async (transaction) => {
        const parts = await this.partsOf(revision, transaction);
        const made = await this.setups.insertRevision(id, revision, parts, transaction);
        if (made?.before !== undefined) await this.carryMarks(made.before, made.id, revision, parts, transaction);
      });
    } catch (error) {
      if (!(error instanceof RevisedMeanwhile)) throw error;
      throw new DomainError(error.code, error.message, { current: await this.get(id) });
    }
    return this.get(id);
  }

  /** What the change does not touch needs no second look. */
  private async carryMarks(
    before: string,
    after: string,
    { settings, fit, isRefitted }: RevisionInput,
    parts: RevisionParts,
    transaction: Knex,
  ): Promise<void> {
    const old = (await this.setups.findFacts([before])).get(before);
    if (!old) return;
    const marks = (await this.marks.listOf([before])).get(before) ?? [];
    const carried = carriedMarks(toFacts(old), toFacts({ parts, settings, fit }), marks, { isRefitted });
    await this.marks.copy(carried, after, transaction);
  }

  async change(
    id: string,
    version: number,
    change: { name: string; notes: string } | { archived: boolean },
  ): Promise<SetupDetail> {
    const isChanged = await this.setups.update(id, version, change);
    const current = await this.get(id);
    if (!isChanged) throw changedMeanwhile(current);
    return current;
  }

  /** The newest revision under another name; runs and marks stay with the first. */
  async copy(id: string, name: string): Promise<SetupDetail> {
    const { notes, revisions, name: from } = await this.get(id);
    const [latest] = revisions;
    return this.add({
      name,
      notes,
      revision: { ...inputOf(latest!), change: `Copied from ${from}, revision ${latest!.number}`, why: '' },
    });
  }

  /** Fails: `changed-meanwhile` where it is not the version that was seen. */
  async remove(id: string, version: number | undefined): Promise<void> {
    if ((await this.setups.delete(id, version)) === 0) throw notFound('This setup');
  }

  /** Passes by eye or waives. Fails: `wrong-state` for what cannot be marked so. */
  async mark(revisionId: string, input: MarkInput): Promise<SetupDetail> {
    const facts = (await this.setups.findFacts([revisionId])).get(revisionId);
    const setupId = await this.setups.findSetupOf(revisionId);
    if (!facts || setupId === undefined) throw notFound('This revision');
    const setup = toFacts(facts);
    const checks = checkSetup(setup);
    const items = clearanceItems(setup, checks, []).filter(({ isComputed }) => !isComputed);
    for (const id of input.ids) {
      const check = checks.find((one) => one.id === id);
      if (!check && !items.some((item) => item.id === id))
        throw new DomainError('wrong-state', `There is no check "${id}" on this setup.`);
      if (check && input.kind === 'passed' && !check.isManual)
        throw new DomainError(
          'wrong-state',
          `"${check.title}" is decided by its numbers: fill them in, fix it, or waive it in writing.`,
        );
      const canHurt = check ? check.severity === 'stop' : true;
      if (canHurt && input.kind === 'waived' && input.ids.length > 1)
        throw new DomainError(
          'wrong-state',
          `What can hurt someone is waived one by one, each with its own reason: “${(check ?? items.find((item) => item.id === id))!.title}”.`,
        );
    }
    await this.database.transaction(async (transaction) => {
      await this.requireSeen(revisionId, setupId, input, transaction);
      await this.marks.insert(revisionId, input, transaction);
    });
    return this.get(setupId);
  }

  async unmark(revisionId: string, { ids, seen }: Unmark): Promise<SetupDetail> {
    const setupId = await this.setups.findSetupOf(revisionId);
    if (setupId === undefined) throw notFound('This revision');
    await this.database.transaction(async (transaction) => {
      await this.requireSeen(revisionId, setupId, { ids, seen }, transaction);
      await this.marks.undo(revisionId, ids, transaction);
    });
    return this.get(setupId);
  }

  /** Nobody passes, waives or withdraws over what another has written there meanwhile. Fails: `changed-meanwhile`. */
  private async requireSeen(
    revisionId: string,
    setupId: string,
    { ids, seen }: Pick<Unmark, 'ids' | 'seen'>,
    transaction: Knex,
  ): Promise<void> {
    const marks = await this.marks.listAlone(revisionId, transaction);
    if (!seen) return;
    for (const id of ids) {
      const mark = marks.find((one) => one.id === id);
      if (seen[id] === undefined || (mark?.at ?? null) === seen[id]) continue;
      throw new DomainError(
        'changed-meanwhile',
        mark
          ? `${mark.by} has ${mark.kind === 'waived' ? `waived this meanwhile: “${mark.reason.replace(/\.$/, '')}”` : 'passed this meanwhile'}. Look at it as it is now, then decide.`
          : 'What was signed here has been withdrawn meanwhile. Look at it as it is now, then decide.',
        await this.get(setupId),
      );
    }
  }

  /** How revisions stand before they are ridden. */
  async clearances(revisionIds: readonly string[]): Promise<ReadonlyMap<string, Clearance>> {
    const [facts, marks] = await Promise.all([this.setups.findFacts(revisionIds), this.marks.listOf(revisionIds)]);
    return new Map([...facts].map(([id, stored]) => [id, clearanceOf(stored, marks.get(id) ?? [])]));
  }

  /** Of revisions of which somebody said in writing why they were ridden with safety checks to do: until which day that holds. */
  async saidOfPastRides(revisionIds: readonly string[]): Promise<ReadonlyMap<string, string>> {
    const marks = await this.marks.listOf(revisionIds);
    return new Map(
      [...marks].flatMap(([id, own]): [string, string][] => {
        const word = own.find((mark) => mark.id === PAST_RIDES);
        return word ? [[id, word.at.slice(0, 10)]] : [];
      }),
    );
  }

  /** Why rides before now were taken: it waives nothing, and the checks wait for the next ride. */
  async notePastRides(revisionId: string, by: string, reason: string, transaction: Knex): Promise<void> {
    await this.marks.insert(revisionId, { ids: [PAST_RIDES], kind: 'waived', by, reason }, transaction);
  }

  private async partsOf(revision: RevisionInput, transaction: Knex): Promise<RevisionParts> {
    const need = async <K extends PartKind>(kind: K, id: string, what: string): Promise<Part<K>> => {
      const part = await this.parts.find(kind, id, transaction);
      if (!part) throw notFound(what);
      return part;
    };
    const { bikeId, kitId, packIds, chargerId, addOnIds, limitsId } = revision;
    const packs: Part<'packs'>[] = [];
    for (const id of packIds) packs.push(await need('packs', id, 'A chosen pack'));
    const addOns: Part<'add-ons'>[] = [];
    for (const id of addOnIds) addOns.push(await need('add-ons', id, 'A chosen add-on'));
    return {
      bike: await need('bikes', bikeId, 'The chosen bike'),
      kit: kitId === null ? null : await need('kits', kitId, 'The chosen kit'),
      packs,
      charger: chargerId === null ? null : await need('chargers', chargerId, 'The chosen charger'),
      addOns,
      limits: limitsId === null ? null : await need('limits', limitsId, 'The chosen limits'),
    };
  }
}

function latestClearance({ revisions }: StoredSetup, marks: ReadonlyMap<string, readonly Mark[]>): Clearance {
  const latest = revisions[0]!;
  return clearanceOf(latest, marks.get(latest.id) ?? []);
}

/** What a new revision with the same choices would be made of. */
export function inputOf({ parts, settings, fit }: SetupDetail['revisions'][number]): RevisionInput {
  return {
    ...partIdsOf(parts),
    settings,
    fit,
    change: 'Copied',
    why: '',
    isRefitted: false,
    basedOn: null,
  };
}
