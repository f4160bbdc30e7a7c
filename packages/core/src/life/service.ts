import { addDays, daysBetween } from './days.js';
import type { LifePartKey } from './parts.js';

/** What is to be done again and again: after so many kilometres or days, whichever is first. */
export interface ServiceItem {
  readonly id: string;
  readonly part: LifePartKey;
  readonly what: string;
  /** Once, early on, after fitting or replacing; null: no earlier than the rest. */
  readonly firstKm: number | null;
  readonly everyKm: number | null;
  readonly everyDays: number | null;
  readonly drive: 'any' | 'hub' | 'mid';
}
const item = (
  id: string,
  part: LifePartKey,
  what: string,
  [firstKm, everyKm, everyDays]: readonly [number | null, number | null, number | null],
  drive: ServiceItem['drive'] = 'any',
): ServiceItem => ({ id, part, what, firstKm, everyKm, everyDays, drive });

/** Usual intervals; a mid motor pulls through the chain and eats it sooner, a hub motor loads its spokes and nuts. */
export const USUAL_SERVICE: readonly ServiceItem[] = [
  item('axle-nuts', 'axle-nuts', 'Axle nuts and torque arm: tight, by torque wrench', [50, 500, 120], 'hub'),
  item('spokes', 'spokes', 'Spokes: even tension, none loose', [100, 800, null], 'hub'),
  item('spokes-mid', 'spokes', 'Spokes: even tension, none loose', [300, 2000, null], 'mid'),
  item('mount', 'motor', 'Motor mount and crank bolts: tight', [50, 500, 120], 'mid'),
  item('chain', 'chain', 'Chain: measure, clean, oil', [null, 800, null], 'hub'),
  item('chain-mid', 'chain', 'Chain: measure, clean, oil', [null, 400, null], 'mid'),
  item('chain-new', 'chain', 'New chain', [null, 3500, null], 'hub'),
  item('chain-new-mid', 'chain', 'New chain', [null, 1700, null], 'mid'),
  item('sprockets', 'sprockets', 'New sprockets', [null, 10_000, null], 'hub'),
  item('sprockets-mid', 'sprockets', 'New sprockets', [null, 4000, null], 'mid'),
  item('brake-pads', 'brake-pads', 'Brake pads: lining left, cable or fluid', [null, 700, 180]),
  item('tyre', 'tyre', 'Tyres: tread, cuts, pressure', [null, 1000, 90]),
  item('wiring', 'wiring', 'Connectors and wiring: dry, cool, held, no chafing', [200, 1500, 180]),
  item('pack', 'pack', 'Pack: case, mount, charged full once to balance', [null, null, 90]),
  item('bearings', 'bearings', 'Headset, hubs and bottom bracket: no play', [null, 3000, 365]),
];

export interface Done {
  readonly day: string;
  readonly km: number;
}
export type DueState = 'due' | 'fine' | 'overdue' | 'soon';
export interface Due {
  readonly item: ServiceItem;
  readonly last: Done | null;
  readonly state: DueState;
  /** Until it is due, negative beyond it; null where distance, or time, does not count. */
  readonly kmLeft: number | null;
  readonly daysLeft: number | null;
  /** Day on which it is due at this bike's pace; null where that is not known. */
  readonly day: string | null;
}
export interface Pace {
  readonly today: string;
  readonly kmNow: number;
  readonly kmPerWeek: number | undefined;
}

/** Nearer than this it is due now, and nearer than that soon. */
const DUE = { km: 0.03, days: 3 };
const SOON = { km: 0.15, days: 21 };
const URGENCY: Readonly<Record<DueState, number>> = { overdue: 0, due: 1, soon: 2, fine: 3 };

/**
 * What is due on one bike, most urgent first. `done`: by item, the last time it was done; else counted from fitting.
 * Units: km, days. Kilometres become a day by the bike's own pace.
 */
export function serviceDue(
  items: readonly ServiceItem[],
  fitted: Done,
  done: ReadonlyMap<string, Done>,
  { today, kmNow, kmPerWeek }: Pace,
): Due[] {
  return items
    .map((one): Due => {
      const last = done.get(one.id) ?? null;
      const from = last ?? fitted;
      const everyKm = last === null ? (one.firstKm ?? one.everyKm) : one.everyKm;
      const kmLeft = everyKm === null ? null : from.km + everyKm - kmNow;
      const byDays = one.everyDays === null ? null : addDays(from.day, one.everyDays);
      const daysLeft = byDays === null ? null : daysBetween(today, byDays);
      const byKm =
        kmLeft === null
          ? null
          : kmLeft <= 0
            ? today
            : kmPerWeek !== undefined && kmPerWeek > 0.5
              ? addDays(today, Math.min(3650, (kmLeft / kmPerWeek) * 7))
              : null;
      const days = [byDays, byKm].filter((day) => day !== null).sort();
      const isWithin = (limits: { km: number; days: number }): boolean =>
        (kmLeft !== null && kmLeft <= limits.km * everyKm!) || (daysLeft !== null && daysLeft <= limits.days);
      const state = isWithin({ km: -1e-9, days: -1 })
        ? 'overdue'
        : isWithin(DUE)
          ? 'due'
          : isWithin(SOON)
            ? 'soon'
            : 'fine';
      return { item: one, last, state, kmLeft, daysLeft, day: days[0] ?? null };
    })
    .sort((a, b) => URGENCY[a.state] - URGENCY[b.state] || (a.day ?? '9').localeCompare(b.day ?? '9'));
}

/** The items that concern a drive: those of a hub motor, a mid motor, or any; a bike without a kit has the hub's easy ones. */
export function itemsOf(items: readonly ServiceItem[], drive: 'hub' | 'mid' | 'none'): ServiceItem[] {
  if (drive === 'none')
    return items.filter((one) => one.drive !== 'mid' && !['axle-nuts', 'motor', 'pack', 'wiring'].includes(one.part));
  return items.filter((one) => one.drive === 'any' || one.drive === drive);
}
