import { Injectable } from '@nestjs/common';
import type { z } from 'zod';
import { isEstimate, money, packEnergy, type SetupFacts } from '@ebrix/core/bench';
import {
  payback,
  paybackWords,
  runningCosts,
  sumPurchases,
  type Payback,
  type RunningCosts,
  type Uncertain,
  type Way,
} from '@ebrix/core/costs';
import { OPEN_RIDING } from '@ebrix/core/compare';
import { figureStandings } from '@ebrix/core/decision';
import { lastingKm, partLives, partNamed } from '@ebrix/core/life';
import type {
  Life,
  MoneyBook,
  moneyBookPutSchema,
  PurchaseLineDto,
  purchasesPutSchema,
  SetupCosts,
  StoredMoneyBook,
} from '@ebrix/contract';
import { changedMeanwhile } from '../bench/parts.service.js';
import { notFound } from '../common/domain-error.js';
import { RunContextService } from '../runs/run-context.service.js';
import { RunFigureRepository } from '../runs/run-figure.repository.js';
import { toFacts } from '../setups/revision-facts.js';
import { SetupRepository } from '../setups/setup.repository.js';
import { LifeService } from '../logbook/life.service.js';
import { TrialRunRepository } from '../trials/trial-run.repository.js';
import { MoneyRepository } from './money.repository.js';

/** What an ordinary charger brings into the pack, and how far that is known. */
const ORDINARY_CHARGER: Uncertain = { value: 0.86, standardUncertainty: 0.035 };
const STATED_CHARGER_U = 0.02;
/** From a span that holds about 95 of 100, and from one in which all is equally likely. */
const SPAN_TO_DEVIATION = 4;
const EVEN_SPAN = 2 * Math.sqrt(3);
const CONSUMPTION = 'netConsumption';

/** What setups cost: to buy, to run, and from when they have paid. */
@Injectable()
export class CostService {
  constructor(
    private readonly money: MoneyRepository,
    private readonly setups: SetupRepository,
    private readonly runs: TrialRunRepository,
    private readonly figures: RunFigureRepository,
    private readonly contexts: RunContextService,
    private readonly lives: LifeService,
  ) {}

  book(): Promise<StoredMoneyBook> {
    return this.money.book();
  }

  async saveBook({ version, book }: z.output<typeof moneyBookPutSchema>): Promise<StoredMoneyBook> {
    const before = await this.book();
    if (!(await this.money.saveBook(version, book)))
      throw changedMeanwhile(version === before.version ? await this.book() : before);
    return this.book();
  }

  async of(setupId: string): Promise<SetupCosts> {
    const [costs] = await this.ofSetups([setupId]);
    return costs!;
  }

  async savePurchases(setupId: string, { version, lines }: z.output<typeof purchasesPutSchema>): Promise<SetupCosts> {
    const before = await this.of(setupId);
    if (!(await this.money.savePurchases(setupId, version, lines)))
      throw changedMeanwhile(version === before.version ? await this.of(setupId) : before);
    return this.of(setupId);
  }

  /** In the order they were asked for. Fails: `not-found`. */
  async ofSetups(setupIds: readonly string[]): Promise<SetupCosts[]> {
    const all = new Map((await this.setups.list()).map((setup) => [setup.id, setup]));
    const [{ book }, purchases] = await Promise.all([this.book(), this.money.purchases(setupIds)]);
    return Promise.all(
      setupIds.map(async (setupId): Promise<SetupCosts> => {
        const setup = all.get(setupId);
        const revision = setup?.revisions[0];
        if (!setup || !revision) throw notFound('This setup');
        const facts = toFacts(revision);
        const stored = purchases.get(setupId);
        const lines = stored?.lines ?? linesOfParts(facts);
        const sums = sumPurchases(lines, book.rates, book.home);
        const { running, basis, reason } = await this.runningOf(setup, facts, book);
        const usable = packEnergy(facts.packs).usable;
        return {
          setupId,
          name: setup.name,
          version: stored?.version ?? 0,
          isOwn: stored !== undefined,
          lines: [...lines],
          sums: { ...sums, rates: [...sums.rates] },
          perUsableWh:
            isEstimate(usable) && sums.conversion > 0 && usable.lower > 0
              ? {
                  value: sums.conversion / usable.value,
                  interval95: [sums.conversion / usable.upper, sums.conversion / usable.lower],
                }
              : null,
          running: running && { ...running, basis },
          reason,
          payback: running ? paybacksOf(setup.name, sums.conversion, running, book) : [],
        };
      }),
    );
  }

  /** From the ordinary rides of its newest revision that has any. */
  private async runningOf(
    setup: Awaited<ReturnType<SetupRepository['list']>>[number],
    facts: SetupFacts,
    book: MoneyBook,
  ): Promise<{ running: RunningCosts | null; basis: string; reason: string | null }> {
    const none = (reason: string): { running: null; basis: string; reason: string } => ({
      running: null,
      basis: '',
      reason,
    });
    const revision = setup.revisions.find(({ runCount }) => runCount > 0);
    if (!revision) return none('No rides yet: what 100 km take is not known.');
    const rides = (await this.runs.runsOf([revision.id])).filter(
      ({ testKind, isExcluded, isSimulated, isMostlyEstimated }) =>
        testKind === 'range' && !isExcluded && !isSimulated && !isMostlyEstimated,
    );
    const values = await this.figures.of(
      rides.map(({ id }) => id),
      CONSUMPTION,
    );
    const own = rides.flatMap((run) => {
      const figure = values.get(run.id);
      // A motor that was off says nothing of what it takes.
      if (!figure || run.riding.way === 'off' || !(figure.value > 0)) return [];
      const { value, standardUncertainty, systematic } = figure;
      // All ordinary rides together, wherever they were ridden: their mean is what the rider's 100 km take.
      return [
        {
          setup: 0,
          kind: 'range' as const,
          course: '',
          outing: run.outing.id,
          riding: OPEN_RIDING,
          value,
          standardUncertainty,
          systematic,
          loggerId: run.loggerId,
        },
      ];
    });
    const standing = figureStandings(CONSUMPTION, own, 1)?.standings[0];
    if (!standing) return none('No ride for range or consumption yet: what 100 km take is not known.');
    const learned = (await this.contexts.learnedOfSetup(setup.id)).chargeEfficiency;
    const stated = facts.charger?.efficiency ?? null;
    const usable = packEnergy(facts.packs).usable;
    const packs = facts.packs.map(({ price }) => price);
    const price = priceOf(packs, book);
    const { wear, seen } = await this.wearOf(setup.id, book);
    const { ageing, cycles } = await this.lives.ofSetup(setup.id);
    const lasts = ageing && cycles !== null ? cyclesOf(ageing, cycles) : undefined;
    const running = runningCosts({
      consumption: standing,
      chargerEfficiency: learned
        ? { value: learned.mean, standardUncertainty: learned.standardDeviation }
        : stated !== null
          ? { value: stated, standardUncertainty: STATED_CHARGER_U }
          : ORDINARY_CHARGER,
      pricePerKWh: book.electricityPerKWh,
      wear,
      pack:
        price !== null && isEstimate(usable)
          ? {
              price,
              usableWh: { value: usable.value, standardUncertainty: (usable.upper - usable.lower) / SPAN_TO_DEVIATION },
              cycles: lasts ?? book.packCycles,
            }
          : null,
    });
    const charger = learned ? 'charger as learned' : stated === null ? 'an ordinary charger' : 'charger as stated';
    const pack = running.parts.some(({ what }) => what === 'pack')
      ? ''
      : '; without wear of the pack: its price or energy is not known';
    return {
      running,
      basis: `${own.length} ${own.length === 1 ? 'ride' : 'rides'} of revision ${revision.number}; ${charger}${pack}${seen.length > 0 ? `; ${seen.join(', ')} by what the logbook saw` : ''}${lasts ? '; pack as it fades' : ''}`,
      reason: null,
    };
  }

  /** Lives of wear parts as the book has them, or as the logbook saw them end on bikes with the same kind of motor. */
  private async wearOf(setupId: string, book: MoneyBook): Promise<{ wear: MoneyBook['wear']; seen: string[] }> {
    const kits = (await this.lives.fittedKits()).filter(({ km, isKept }) => km > 0 && isKept);
    const motor = kits.find(({ subject }) => subject.id === setupId)?.groups.motorKind;
    const alike = kits.filter(({ groups }) => groups.motorKind === motor);
    const seen: string[] = [];
    const wear = book.wear.map((line) => {
      const part = partNamed(line.what);
      const lives = part && motor !== undefined ? partLives(alike, part) : undefined;
      const lasting = lives && lastingKm(lives);
      if (!lasting) return line;
      seen.push(line.what);
      return { ...line, lastsKm: [lasting[0], lasting[1]] as [number, number] };
    });
    return { wear, seen };
  }
}

/** Full cycles a pack lasts, by how it fades so far; undefined where it is not sure that it does, or for how long. */
function cyclesOf(
  { verdict, cyclesInterval95: [low, high] }: NonNullable<Life['ageing']>,
  cycles: number,
): readonly [number, number] | undefined {
  return verdict === 'fades' && high !== null && cycles + low > 0 ? [cycles + low, cycles + high] : undefined;
}

/** The parts as bought, until a list of one's own is stored. */
function linesOfParts(facts: SetupFacts): PurchaseLineDto[] {
  const { items, missing } = money(facts);
  const line = { source: 'bought', sharedBy: 1 } as const;
  return [
    ...items.map(({ what, part, price }): PurchaseLineDto => ({
      ...line,
      what,
      kind: 'part',
      price: { amount: price.amount, currency: price.currency },
      isOfBike: part === 'bike',
    })),
    ...missing.map((what): PurchaseLineDto => ({ ...line, what, kind: 'part', price: null, isOfBike: false })),
  ];
}

/** Price of all packs in the home currency; null while one of them is not known. */
function priceOf(prices: SetupFacts['packs'][number]['price'][], { home, rates }: MoneyBook): number | null {
  if (prices.length === 0) return null;
  let sum = 0;
  for (const price of prices) {
    const rate =
      price && (price.currency === home ? 1 : rates.find(({ currency }) => currency === price.currency)?.inHome);
    if (!price || !rate) return null;
    sum += price.amount * rate;
  }
  return sum;
}

function paybacksOf(
  name: string,
  upFront: number,
  running: RunningCosts,
  book: MoneyBook,
): SetupCosts['payback'][number][] {
  const own: Way = { name, upFront, perHundredKm: running };
  return book.alternatives.map(({ name: against, price, perHundredKm: [from, to] }) => {
    const found = payback(own, {
      name: against,
      upFront: price,
      perHundredKm: { value: (from + to) / 2, standardUncertainty: (to - from) / EVEN_SPAN },
    });
    return { against, ...shown(found), words: paybackWords(found, against) };
  });
}

function shown(found: Payback): Pick<SetupCosts['payback'][number], 'interval95' | 'km' | 'kind'> {
  if (found.kind === 'cannot-tell') return { kind: found.kind, km: null, interval95: [found.fromKm, null] };
  if (found.kind !== 'after' && found.kind !== 'until') return { kind: found.kind, km: null, interval95: null };
  const [low, high] = found.interval95;
  return { kind: found.kind, km: found.km, interval95: [low, Number.isFinite(high) ? high : null] };
}
