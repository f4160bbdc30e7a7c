import { setImmediate } from 'node:timers/promises';
import { Injectable } from '@nestjs/common';
import { isConverted, isHub, packEnergy, type ConvertedSetup } from '@ebrix/core/bench';
import {
  distancesOf,
  faultRate,
  lifeOf,
  watchedLife,
  type GroupBy,
  type Life as WorkedLife,
  type LifeFacts,
  type Conversion as Watched,
  type Replacement,
} from '@ebrix/core/life';
import { workedThumbRules } from '@ebrix/core/ride-model';
import type { Conversion, DueList, Life, LogbookSettings, Subject } from '@ebrix/contract';
import { PartsRepository } from '../bench/parts.repository.js';
import { Clock } from '../common/clock.js';
import { notFound } from '../common/domain-error.js';
import { toFacts } from '../setups/revision-facts.js';
import { SetupRepository, type StoredSetup } from '../setups/setup.repository.js';
import { ConversionRepository } from './conversion.repository.js';
import { EntryRepository, type StoredLifeEntry } from './entry.repository.js';
import { LogbookSettingsRepository } from './logbook-settings.repository.js';
import { RiddenRepository } from './ridden.repository.js';

/** One kit that was fitted, tested or out of sight, with what became of it. */
export interface FittedKit extends Watched {
  readonly subject: Subject;
  readonly replacements: readonly Replacement[];
  readonly answers: Life['answers'];
  /** Somebody writes down what happens to it: without, no fault is no news. */
  readonly isKept: boolean;
}
interface Known {
  readonly life: Life;
  readonly kit: FittedKit | undefined;
}
const MOTOR_WORDS = {
  'front-hub': 'front hub',
  'rear-hub-geared': 'rear hub, geared',
  'rear-hub-direct': 'rear hub, direct',
  mid: 'mid motor',
} as const;
/** A line of distances is drawn with so many points; the sums know all of them. */
const DRAWN_POINTS = 200;

/** Lives whose entries are read together. */
const AT_ONCE = 8;

/** Nothing is told of it beside its entries and rides. */
const OF_SETUP = { isOutOfSight: false, fittedOn: null, told: null } as const;

/** Lives of setups, bikes and conversions, each kept until its entries, rides or the day change. */
@Injectable()
export class LifeService {
  private readonly kept = new Map<string, { readonly stamp: string; readonly known: Known }>();
  private lastAll: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly entries: EntryRepository,
    private readonly conversions: ConversionRepository,
    private readonly settings: LogbookSettingsRepository,
    private readonly ridden: RiddenRepository,
    private readonly setups: SetupRepository,
    private readonly parts: PartsRepository,
    private readonly clock: Clock,
  ) {}

  async ofSetup(id: string): Promise<Life> {
    const [setup] = await this.setups.list(id);
    if (!setup) throw notFound('This setup');
    const [known] = await this.knownSetups([setup]);
    return known!.life;
  }

  async ofConversion(id: string): Promise<Life> {
    const [conversion] = await this.conversions.list(id);
    if (!conversion) throw notFound('This conversion');
    const [known] = await this.knownConversions([conversion]);
    return known!.life;
  }

  /** Of a bike: its own entries and those of all that was fitted to it. */
  async ofBike(id: string): Promise<Life> {
    const bike = await this.parts.find('bikes', id);
    if (!bike) throw notFound('This bike');
    const onIt = (await this.setups.list()).filter(({ revisions }) => revisions[0]?.parts.bike.id === id);
    const ids = onIt.map((setup) => setup.id);
    const [own, ofSetups, rides, settings] = await Promise.all([
      this.entries.livesOf('bike', [id]),
      this.entries.livesOf('setup', ids),
      this.ridden.distances(ids),
      this.settings.get(),
    ]);
    const fitted = ids.flatMap((one) => ofSetups.get(one) ?? []);
    const entries = [...(own.get(id) ?? []), ...fitted];
    const facts: LifeFacts = {
      // The bike goes on when a kit comes off. Each kit has a display of its own: its distances count, not what it shows.
      entries: [
        ...(own.get(id) ?? []),
        ...fitted
          .filter(({ details: { kind } }) => kind !== 'fitted' && kind !== 'taken-off' && kind !== 'odometer')
          .map((entry) => ({ ...entry, odometerKm: null })),
      ],
      rides: ids.flatMap((one) =>
        distancesOf(watchedLife({ ...OF_SETUP, entries: ofSetups.get(one) ?? [], rides: rides.get(one) ?? [] }).line),
      ),
      ...OF_SETUP,
      drive: 'none',
      pack: null,
    };
    return toLife({ kind: 'bike', id }, bike.name, lifeOf(facts, settings, this.today()), entries);
  }

  /** What is due on all that has a life, most urgent first; kits that were taken off have nothing due. */
  async dueEverywhere(): Promise<DueList> {
    const known = await this.allKnown(false);
    return known
      .map(({ life: { subject, name, due, followUps } }) => ({
        subject,
        name,
        due: due.filter(({ state }) => state !== 'fine'),
        followUps: followUps.filter(({ state }) => state === 'due'),
      }))
      .filter(({ due, followUps }) => due.length + followUps.length > 0);
  }

  async fittedKits(): Promise<FittedKit[]> {
    return (await this.allKnown(true)).flatMap(({ kit }) => kit ?? []);
  }

  today(): string {
    return this.clock.now().toISOString().slice(0, 10);
  }

  /**
   * Setups with a kit, and conversions, of which anything is known: an entry, a ride, or kilometres told. What was put away was ridden all the same:
   * faults are counted with it, or the good would be left over.
   */
  private async allKnown(withArchived: boolean): Promise<Known[]> {
    // One after the other: who comes second finds what the first worked out.
    const found = this.lastAll.then(() => this.workOutAll(withArchived));
    this.lastAll = found.catch(() => undefined);
    return found;
  }

  private async workOutAll(withArchived: boolean): Promise<Known[]> {
    const isWanted = ({ archivedAt }: { archivedAt: string | null }): boolean => withArchived || archivedAt === null;
    const [setups, conversions] = await Promise.all([this.setups.list(), this.conversions.list()]);
    return [
      ...(await this.knownSetups(setups.filter(isWanted))),
      ...(await this.knownConversions(conversions.filter(isWanted))),
    ].filter(({ life, kit }) => kit !== undefined && (life.km > 0 || life.points.length > 0 || life.faults.length > 0));
  }

  private async knownSetups(setups: readonly StoredSetup[]): Promise<Known[]> {
    const [stamps, rideStamps, settings] = await Promise.all([
      this.entries.stamps(),
      this.ridden.stamps(),
      this.settings.get(),
    ]);
    const stampOf = ({ id, version, revisions }: StoredSetup): string =>
      [this.today(), settings.version, version, revisions[0]?.id, stamps.get(id), rideStamps.get(id)].join('|');
    const stale = setups.filter((setup) => this.kept.get(setup.id)?.stamp !== stampOf(setup)).map(({ id }) => id);
    const rides = await this.ridden.distances(stale);
    return this.inPieces('setup', setups, stampOf, (setup, own) =>
      this.workOutSetup(setup, own, rides.get(setup.id) ?? [], settings),
    );
  }

  private async workOutSetup(
    setup: StoredSetup,
    entries: readonly StoredLifeEntry[],
    rides: LifeFacts['rides'],
    settings: LogbookSettings,
  ): Promise<Known> {
    const revision = setup.revisions.find((one) => isConverted(toFacts(one)));
    const found = revision && toFacts(revision);
    const facts = found && isConverted(found) ? found : undefined;
    const subject: Subject = { kind: 'setup', id: setup.id };
    const lifeFacts: LifeFacts = {
      entries,
      rides,
      drive: facts ? (isHub(facts.kit) ? 'hub' : 'mid') : 'none',
      ...OF_SETUP,
      pack: facts ? await this.packOf(setup, facts) : null,
    };
    const worked = lifeOf(lifeFacts, settings, this.today());
    const life = toLife(subject, setup.name, worked, entries);
    if (!facts) return { life, kit: undefined };
    const use = entries.flatMap(({ details }) => (details.kind === 'fitted' ? details.use : [])).at(-1) ?? '';
    const groups: Record<GroupBy, string> = {
      kit: facts.kit.name,
      motorKind: MOTOR_WORDS[facts.kit.motorKind],
      pack: facts.packs.map(({ name }) => name).join(' + '),
      use,
    };
    return { life, kit: kitOf(subject, setup.name, worked, groups, entries.length > 0, life.answers) };
  }

  /** Of the packs that are on it now: what others gave before is none of theirs. */
  private async packOf({ id, revisions }: StoredSetup, facts: ConvertedSetup): Promise<LifeFacts['pack']> {
    const idsOf = (packs: readonly { readonly id: string }[]): string => packs.map((pack) => pack.id).join();
    const [now] = revisions.filter((one) => one.kit !== null);
    const alike = revisions.filter((one) => now && idsOf(one.packs) === idsOf(now.packs)).map((one) => one.id);
    const { nominalWh, capacityAh } = packEnergy(facts.packs);
    const chemistry = facts.packs[0]?.chemistry;
    if (nominalWh === null || capacityAh === null || chemistry === undefined) return null;
    const [readings, resistances, ridden] = await Promise.all([
      this.ridden.capacities(alike),
      this.ridden.resistances(alike),
      this.ridden.whPerKm(id),
    ]);
    const whPerKm = ridden ?? workedThumbRules(facts).find(({ way }) => way === 'pedalling')?.whPerKm;
    if (whPerKm === undefined) return null;
    return {
      chemistry,
      nominalWh,
      whPerKm,
      resistances,
      readings: readings.map(({ day, kind, value, airTemperatureC }) => ({
        day,
        kind,
        share: value / (kind === 'test' ? capacityAh : nominalWh),
        airTemperatureC,
      })),
    };
  }

  private async knownConversions(conversions: readonly Conversion[]): Promise<Known[]> {
    const [stamps, settings] = await Promise.all([this.entries.stamps(), this.settings.get()]);
    const stampOf = ({ id, version }: Conversion): string =>
      [this.today(), settings.version, version, stamps.get(id)].join('|');
    return this.inPieces('conversion', conversions, stampOf, (conversion, own) =>
      this.workOutConversion(conversion, own, settings),
    );
  }

  /** What is kept, and the stale worked out a few at a time, so that others are answered between. */
  private async inPieces<T extends { readonly id: string }>(
    kind: Subject['kind'],
    all: readonly T[],
    stampOf: (one: T) => string,
    workOut: (one: T, entries: readonly StoredLifeEntry[]) => Known | Promise<Known>,
  ): Promise<Known[]> {
    const isFresh = (one: T): boolean => this.kept.get(one.id)?.stamp === stampOf(one);
    const fresh = new Map(all.filter(isFresh).map(({ id }) => [id, this.kept.get(id)!.known]));
    const stale = all.filter(({ id }) => !fresh.has(id));
    for (let from = 0; from < stale.length; from += AT_ONCE) {
      const some = stale.slice(from, from + AT_ONCE);
      const entries = await this.entries.livesOf(
        kind,
        some.map(({ id }) => id),
      );
      for (const one of some) {
        const known = await workOut(one, entries.get(one.id) ?? []);
        this.kept.set(one.id, { stamp: stampOf(one), known });
        fresh.set(one.id, known);
        await setImmediate();
      }
    }
    return all.map(({ id }) => fresh.get(id)!);
  }

  private workOutConversion(
    conversion: Conversion,
    entries: readonly StoredLifeEntry[],
    settings: LogbookSettings,
  ): Known {
    const { id, name, kit, motorKind, pack, use, fittedOn, km, kmOn } = conversion;
    const subject: Subject = { kind: 'conversion', id };
    const facts: LifeFacts = {
      entries,
      rides: [],
      drive: motorKind === 'mid' ? 'mid' : 'hub',
      isOutOfSight: true,
      fittedOn,
      told: km === null || kmOn === null ? null : { km, day: kmOn },
      pack: null,
    };
    const worked = lifeOf(facts, settings, this.today());
    const groups = { kit, motorKind: motorKind === null ? '' : MOTOR_WORDS[motorKind], pack, use };
    const life = toLife(subject, name, worked, entries);
    return { life, kit: kitOf(subject, name, worked, groups, true, life.answers) };
  }
}

function kitOf(
  subject: Subject,
  name: string,
  { km, faults, replacements }: WorkedLife,
  groups: Record<GroupBy, string>,
  isKept: boolean,
  answers: Life['answers'],
): FittedKit {
  return { subject, id: subject.id, name, km, groups, faults, replacements, isKept, answers };
}

function toLife(subject: Subject, name: string, worked: WorkedLife, entries: readonly StoredLifeEntry[]): Life {
  const { points, problems } = worked.line;
  const every = Math.max(1, Math.ceil(points.length / DRAWN_POINTS));
  const amounts = new Map<string, number>();
  for (const { cost } of entries) if (cost) amounts.set(cost.currency, (amounts.get(cost.currency) ?? 0) + cost.amount);
  const kit = { id: subject.id, name, km: worked.km, faults: worked.faults, groups: NO_GROUPS };
  return {
    subject,
    name,
    fittedOn: worked.fitted?.day ?? null,
    takenOff: worked.takenOff,
    km: worked.km,
    odometerKm: points.at(-1)?.km ?? null,
    kmPerWeek: worked.kmPerWeek,
    points: points.filter((_, k) => k % every === 0 || k === points.length - 1).map(({ day, km }) => ({ day, km })),
    problems: problems.map((problem) => ({ ...problem })),
    faults: worked.faults.map(({ id, day, km, part, effect }) => ({ id, day, km, part, effect })),
    rate: worked.km > 0 ? structuredClone(faultRate(name, [kit])) : null,
    wear: worked.wear.map(({ part, forecast }) => ({ part, ...forecast, interval95: [...forecast.interval95] })),
    due: worked.due.map(({ item: { id, part, what }, ...due }) => ({ ...due, item: { id, part, what } })),
    followUps: worked.followUps.map(({ stage: { id, label }, ...rest }) => ({ ...rest, stage: { id, label } })),
    answers: entries.flatMap(({ day, by, details }) =>
      details.kind === 'follow-up'
        ? [
            {
              day,
              by,
              stage: details.stage,
              answers: { ...details.answers },
              words: details.words,
              changed: details.changed,
            },
          ]
        : [],
    ),
    socket: worked.socket && {
      ...worked.socket,
      interval95: worked.socket.interval95 && [...worked.socket.interval95],
    },
    cycles: worked.cycles,
    capacity: worked.capacity.map((one) => ({ ...one })),
    ageing: worked.ageing && {
      ...worked.ageing,
      interval95: [...worked.ageing.interval95],
      cyclesInterval95: [...worked.ageing.cyclesInterval95],
    },
    resistance: worked.resistance && { ...worked.resistance, interval95: [...worked.resistance.interval95] },
    costs: [...amounts].map(([currency, amount]) => ({ currency, amount })),
  };
}
const NO_GROUPS: Record<GroupBy, string> = { kit: '', motorKind: '', pack: '', use: '' };
