import { checkSetup, type Check, type Mark } from './check-setup.js';
import { clearanceItems } from './clearance.js';
import type { SetupFacts } from './facts.js';

type Side = 'addOns' | 'bike' | 'charger' | 'fit' | 'kit' | 'packs' | 'settings';
const PHYSICAL: readonly Side[] = ['addOns', 'bike', 'charger', 'fit', 'kit', 'packs', 'settings'];

/** What of a setup each item before riding rests on; an item that is not named rests on all of it. */
const RESTS_ON: Readonly<Record<string, readonly Side[]>> = {
  'clearance-axle': ['addOns', 'bike', 'fit', 'kit'],
  'clearance-mid-mount': ['bike', 'fit', 'kit'],
  'clearance-brakes': ['addOns', 'bike', 'fit', 'kit'],
  'clearance-cut': ['bike', 'kit', 'settings'],
  'clearance-cables': ['addOns', 'bike', 'kit', 'packs'],
  'clearance-battery': ['addOns', 'bike', 'fit', 'packs'],
  'clearance-lithium': ['charger', 'packs'],
  'clearance-helmet': [],
};

/** What is said of a part, and of a fit, without changing anything about the bike. */
const BESIDE_THE_POINT: ReadonlySet<string> = new Set([
  'archivedAt',
  'claims',
  'currency',
  'electricityPerKWh',
  'name',
  'note',
  'notes',
  'payloadKg',
  'price',
  'restVoltagesV',
  'riderMassKg',
  'runCount',
  'updatedAt',
  'version',
]);

/**
 * Marks of a revision that hold for the next one too: those about what the change does not touch. A check that arithmetic judges
 * keeps its waiver while it says the very same; what a person looked at, while the parts it rests on are the same ones in the
 * same fit. `isRefitted`: something was taken apart and put together again, and no look of before counts.
 */
export function carriedMarks(
  before: SetupFacts,
  after: SetupFacts,
  marks: readonly Mark[],
  { isRefitted }: { readonly isRefitted: boolean },
): Mark[] {
  const touched = new Set(PHYSICAL.filter((side) => !isAlike(before[side], after[side])));
  const [old, now] = [checkSetup(before), checkSetup(after)];
  const items = new Set(clearanceItems(after, now, []).map(({ id }) => id));
  return marks.filter(({ id }) => {
    const check = now.find((one) => one.id === id);
    if (check) {
      const isSame = saysTheSame(
        check,
        old.find((one) => one.id === id),
      );
      return isSame && (!check.isManual || (!isRefitted && touched.size === 0));
    }
    if (!items.has(id)) return false;
    const sides = RESTS_ON[id] ?? PHYSICAL;
    if (isRefitted && sides.length > 0) return false;
    return !sides.some((side) => touched.has(side));
  });
}

function saysTheSame(now: Check, before: Check | undefined): boolean {
  return (
    before !== undefined &&
    now.state === before.state &&
    JSON.stringify([now.arithmetic, now.needs]) === JSON.stringify([before.arithmetic, before.needs])
  );
}

function isAlike(a: unknown, b: unknown): boolean {
  return JSON.stringify(a, theBikeAlone) === JSON.stringify(b, theBikeAlone);
}

function theBikeAlone(key: string, value: unknown): unknown {
  return BESIDE_THE_POINT.has(key) ? undefined : value;
}
