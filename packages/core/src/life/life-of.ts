import type { Chemistry } from '../battery/index.js';
import { socketUse, type SocketUse } from './charging.js';
import type { LifeDetails, LifeEntry, LifeKind } from './entries.js';
import { followUpsDue, type FollowUpDue, type FollowUpStage } from './follow-ups.js';
import {
  kmAt,
  kmPerWeek,
  odometerLine,
  type OdometerEntry,
  type OdometerLine,
  type RiddenDistance,
} from './odometer.js';
import {
  packAgeing,
  resistanceGrowth,
  type CapacityReading,
  type PackAgeing,
  type ResistanceGrowth,
} from './pack-ageing.js';
import type { Replacement } from './part-lives.js';
import { isOfKit, LIFE_PART_KEYS, wearOf, type LifePartKey } from './parts.js';
import type { Fault } from './reliability.js';
import { itemsOf, serviceDue, type Done, type Due, type ServiceItem } from './service.js';
import { wearForecast, type WearForecast } from './wear.js';

/** What is known of one bike with its kit, a bike alone, or a conversion that is out of sight. */
export interface LifeFacts {
  readonly entries: readonly LifeEntry[];
  /** Rides that were measured add theirs by themselves. */
  readonly rides: readonly RiddenDistance[];
  readonly drive: 'hub' | 'mid' | 'none';
  /** Nobody tests it: what is written down of its distance is km since fitting, not what a display shows. */
  readonly isOutOfSight: boolean;
  /** Out of sight: fitted on this day; null where that is not known. */
  readonly fittedOn: string | null;
  /** Km since fitting as told for some day, without a word on the days between. */
  readonly told: { readonly km: number; readonly day: string } | null;
  readonly pack: {
    readonly chemistry: Chemistry;
    readonly nominalWh: number;
    /** Wh for a kilometre, of own rides or by rule of thumb. */
    readonly whPerKm: number;
    readonly readings: readonly {
      readonly day: string;
      readonly share: number;
      readonly kind: 'ride' | 'test';
      readonly airTemperatureC: number | null;
    }[];
    /** Of battery tests, Ω. */
    readonly resistances?: readonly {
      readonly day: string;
      readonly ohm: number;
      readonly airTemperatureC: number | null;
    }[];
  } | null;
}
export interface LifeSettings {
  readonly items: readonly ServiceItem[];
  readonly stages: readonly FollowUpStage[];
  /** A pack that gives less of its label than this is at its end. */
  readonly lowestPackShare: number;
}

/** How far a kit was watched, and what became of it; km since it was fitted. */
export interface WatchedLife {
  readonly fitted: Done | null;
  readonly takenOff: string | null;
  readonly km: number;
  readonly kmPerWeek: number | null;
  readonly line: OdometerLine;
  readonly faults: readonly (Fault & { readonly id: string; readonly day: string })[];
  readonly replacements: readonly (Replacement & { readonly day: string })[];
}
export interface Life extends WatchedLife {
  readonly wear: readonly { readonly part: LifePartKey; readonly forecast: WearForecast }[];
  readonly due: readonly Due[];
  readonly followUps: readonly FollowUpDue[];
  readonly socket: SocketUse | null;
  readonly ageing: PackAgeing | null;
  readonly resistance: ResistanceGrowth | null;
  /** Full cycles of the pack so far, by what was ridden. */
  readonly cycles: number | null;
  readonly capacity: readonly (CapacityReading & { readonly day: string })[];
}

type Of<K extends LifeKind> = LifeEntry & { readonly details: Extract<LifeDetails, { readonly kind: K }> };
function ofKind<K extends LifeKind>(entries: readonly LifeEntry[], kind: K): Of<K>[] {
  return entries.filter((one): one is Of<K> => one.details.kind === kind);
}
const dayOrder = (a: { day: string }, b: { day: string }): number => (a.day < b.day ? -1 : a.day > b.day ? 1 : 0);

/** A time in which the kit was on the bike: from one point of the odometer to another. */
interface Span {
  readonly from: Done;
  /** Null: still on it. */
  readonly to: string | null;
  /** Ridden with it before this time. */
  readonly before: number;
  readonly km: number;
}

/**
 * Odometer, exposure, faults and replacements of one kit; cheap, so that many can be gone through. A kit that was taken off and fitted again was ridden in
 * its times on the bike only; a fault of another time is none of its faults.
 */
export function watchedLife(
  facts: Pick<LifeFacts, 'entries' | 'fittedOn' | 'isOutOfSight' | 'rides' | 'told'>,
): WatchedLife {
  const entries = [...facts.entries].sort(dayOrder);
  const line = odometerLine(readingsOf(entries, facts), facts.rides);
  const spans = facts.isOutOfSight ? spansOutOfSight(entries, facts, line) : spansOnBike(entries, line);
  const last = spans.at(-1);
  const km = last ? last.before + last.km : 0;
  /** Km with the kit on a day; undefined while it was not on the bike. */
  const since = (day: string): number | undefined => {
    const span = spans.find(({ from, to }) => day >= from.day && (to === null || day <= to));
    return span && span.before + Math.min(span.km, Math.max(0, (kmAt(line, day) ?? 0) - span.from.km));
  };
  // Nobody sees its display: what is written down is km since fitting.
  const own = (day: string, odometerKm: number | null): number | undefined =>
    facts.isOutOfSight && odometerKm !== null ? Math.min(km, odometerKm) : since(day);
  return {
    fitted: last?.from ?? null,
    takenOff: last?.to ?? null,
    km,
    kmPerWeek: null,
    line,
    faults: ofKind(entries, 'fault').flatMap(({ id, day, odometerKm, details: { part, effect } }) => {
      const at = own(day, odometerKm);
      return at === undefined ? [] : [{ id, day, part, effect, km: at }];
    }),
    replacements: ofKind(entries, 'replacement').flatMap(({ day, odometerKm, details: { part, why } }) => {
      const at = own(day, odometerKm);
      return at === undefined ? [] : [{ day, part, isEndOfLife: why === 'worn' || why === 'failed', km: at }];
    }),
  };
}

function readingsOf(
  entries: readonly LifeEntry[],
  { fittedOn, isOutOfSight, told }: Pick<LifeFacts, 'fittedOn' | 'isOutOfSight' | 'told'>,
): OdometerEntry[] {
  const readings = entries.flatMap(({ day, odometerKm, details }): OdometerEntry[] => {
    if (details.kind === 'odometer') {
      const { way, km, wheelFactor } = details;
      return [{ day, way, km, ...(wheelFactor !== null && { wheelFactor }) }];
    }
    const isFitting = details.kind === 'fitted';
    if (odometerKm === null || (isFitting && isOutOfSight)) return [];
    return [{ day, way: 'reading', km: odometerKm, ...(isFitting && { isMorning: true }) }];
  });
  if (isOutOfSight && fittedOn !== null) readings.push({ day: fittedOn, way: 'reading', km: 0, isMorning: true });
  if (told !== null) readings.push({ day: told.day, way: 'reading', km: told.km });
  return readings;
}

/** Out of sight all that is written down counts from the fitting, whose day may not be known. */
function spansOutOfSight(
  entries: readonly LifeEntry[],
  { fittedOn, told }: Pick<LifeFacts, 'fittedOn' | 'told'>,
  line: OdometerLine,
): Span[] {
  const day = fittedOn ?? ofKind(entries, 'fitted')[0]?.day ?? entries[0]?.day ?? told?.day;
  if (day === undefined) return [];
  const off = ofKind(entries, 'taken-off').find((one) => one.day >= day)?.day ?? null;
  const km = (off === null ? line.points.at(-1)?.km : kmAt(line, off)) ?? 0;
  return [{ from: { day, km: 0 }, to: off, before: 0, km }];
}

/** From each fitting to where it was taken off; without an entry of a fitting from the first of all that is known. */
function spansOnBike(entries: readonly LifeEntry[], line: OdometerLine): Span[] {
  const offs = ofKind(entries, 'taken-off').map(({ day }) => day);
  const firstDay = [line.points[0]?.day, entries[0]?.day].filter((day) => day !== undefined).sort()[0];
  const fittings = ofKind(entries, 'fitted').map(({ day, odometerKm }) => ({ day, isRead: odometerKm !== null }));
  const starts = fittings.length > 0 || firstDay === undefined ? fittings : [{ day: firstDay, isRead: false }];
  const spans: Span[] = [];
  let used = 0;
  for (const { day, isRead } of starts) {
    const before = spans.at(-1);
    // Fitted again without a word of its coming off: it stayed on.
    if (before && (before.to === null || day < before.to)) continue;
    // Each coming off ends one time on the bike, also where it was fitted again the same day.
    const ended = offs.findIndex((off, k) => k >= used && off >= day);
    used = ended < 0 ? offs.length : ended + 1;
    const to = offs[ended] ?? null;
    const from = { day, km: startKm(line, day, isRead) };
    const end = (to === null ? line.points.at(-1)?.km : kmAt(line, to)) ?? from.km;
    spans.push({ from, to, before: before ? before.before + before.km : 0, km: Math.max(0, end - from.km) });
  }
  return spans;
}

/** What stood on the odometer when the kit was fitted, before the first ride of that day. */
function startKm(line: OdometerLine, day: string, isRead: boolean): number {
  const sameDay = line.points.find((point) => point.day === day);
  if (sameDay && isRead) return sameDay.km;
  const before = line.points.filter((point) => point.day < day).at(-1);
  if (before) return sameDay ? before.km : (kmAt(line, day) ?? before.km);
  // The first reading is where the records begin; rides alone begin at nothing.
  return line.startKm ?? 0;
}

/** A bike's life with all that follows from it for today. Units: km, days, full cycles. */
export function lifeOf(facts: LifeFacts, settings: LifeSettings, today: string): Life {
  const watched = watchedLife(facts);
  const { line, fitted } = watched;
  const entries = [...facts.entries].sort(dayOrder);
  const now = line.points.at(-1)?.km ?? 0;
  const pace = kmPerWeek(line, today);
  const at = (day: string): number => kmAt(line, day) ?? 0;
  const start = fitted ?? { day: entries[0]?.day ?? today, km: at(entries[0]?.day ?? today) };

  const done = new Map<string, Done>();
  const setDone = (id: string, day: string): void => {
    const before = done.get(id);
    if (!before || before.day <= day) done.set(id, { day, km: at(day) });
  };
  for (const { day, details } of ofKind(entries, 'service')) for (const id of details.items) setDone(id, day);
  for (const { day, part } of watched.replacements)
    for (const item of settings.items) if (item.part === part) setDone(item.id, day);

  const wear = LIFE_PART_KEYS.flatMap((part) => {
    if (!wearOf(part)) return [];
    const renewed =
      watched.replacements
        .filter((one) => one.part === part)
        .sort(dayOrder)
        .at(-1)?.day ?? start.day;
    const readings = ofKind(entries, 'inspection').flatMap(({ day, details }) =>
      details.part === part && details.value !== null && day >= renewed
        ? [{ km: Math.max(0, at(day) - at(renewed)), value: details.value }]
        : [],
    );
    const isRenewed = watched.replacements.some((one) => one.part === part);
    const forecast = wearForecast(part, readings, Math.max(0, now - at(renewed)), isRenewed || isOfKit(part));
    return forecast ? [{ part, forecast }] : [];
  });

  const answered = new Set(ofKind(entries, 'follow-up').map(({ details }) => details.stage));
  const isRebased = ofKind(entries, 'odometer').some(({ details: { way } }) => way === 'rebase');
  const charges = ofKind(entries, 'charge').map(({ day, odometerKm, details: { kWh, extent } }) => ({
    // Across a change of display only the whole distance goes on.
    km: isRebased || odometerKm === null ? at(day) : odometerKm,
    kWh,
    isFull: extent === 'full',
  }));
  const { pack } = facts;
  // Another pack begins its own cycles.
  const newPack = watched.replacements
    .filter(({ part }) => part === 'pack')
    .sort(dayOrder)
    .at(-1);
  const packFrom = newPack ? { day: newPack.day, km: at(newPack.day) } : start;
  const cyclesAt = (day: string): number =>
    pack ? (Math.max(0, at(day) - packFrom.km) * pack.whPerKm) / pack.nominalWh : 0;
  const isOfPack = ({ day }: { day: string }): boolean => newPack === undefined || day >= newPack.day;
  const cycles = pack ? cyclesAt(today) : null;
  const readByHand = ofKind(entries, 'inspection').flatMap(({ day, details }) =>
    details.part === 'pack' && details.value !== null
      ? [{ day, share: details.value / 100, kind: 'ride' as const, airTemperatureC: null }]
      : [],
  );
  const capacity = pack
    ? [...pack.readings, ...readByHand]
        .filter(isOfPack)
        .sort(dayOrder)
        .map((reading) => ({ ...reading, cycles: cyclesAt(reading.day) }))
    : [];
  const ageing = pack ? packAgeing(capacity, pack.chemistry, cycles ?? 0, settings.lowestPackShare) : undefined;
  const resistance = resistanceGrowth(
    (pack?.resistances ?? [])
      .filter(isOfPack)
      .map(({ day, ohm, airTemperatureC }) => ({ cycles: cyclesAt(day), ohm, airTemperatureC })),
  );
  // Where nobody keeps book of services, all would be overdue and nothing known.
  const isKept = entries.some(({ details: { kind } }) => kind === 'service' || kind === 'fitted');
  const isAsked = isKept || answered.size > 0;
  const isOff = watched.takenOff !== null;
  return {
    ...watched,
    kmPerWeek: pace ?? null,
    // A pack whose cycles are known is told of by them.
    wear: ageing ? wear.filter(({ part }) => part !== 'pack') : wear,
    due:
      isOff || !isKept
        ? []
        : serviceDue(itemsOf(settings.items, facts.drive), start, done, { today, kmNow: now, kmPerWeek: pace }),
    followUps:
      isOff || !isAsked ? [] : followUpsDue(settings.stages, start, answered, { today, kmNow: now, kmPerWeek: pace }),
    socket: socketUse(charges) ?? null,
    ageing: ageing ?? null,
    resistance: resistance ?? null,
    cycles,
    capacity,
  };
}
