import { checkSetup, clearanceItems, type Check, type ClearanceItem, type SetupFacts } from '@ebrix/core/bench';
import {
  setupFitSchema,
  setupSettingsSchema,
  type Part,
  type PartKind,
  type RevisionDetail,
  type RevisionParts,
  type SetupFit,
  type SetupSettings,
} from '@ebrix/contract';
import { factsOf } from '../../entities/setup/index.js';

export interface SetupAssessment {
  readonly facts: SetupFacts;
  readonly checks: readonly Check[];
  readonly items: readonly ClearanceItem[];
}
/** Checks and safety of a revision: computed here by the same core as on the server. */
export function assess(revision: RevisionDetail): SetupAssessment {
  const facts = factsOf(revision);
  const checks = checkSetup(facts, revision.marks);
  return { facts, checks, items: clearanceItems(facts, checks, revision.marks) };
}

/** The parts that are chosen in a form; undefined while bike or kit are missing. */
export function chosenParts(
  chosen: {
    readonly bikeId?: string | undefined;
    readonly kitId?: string | undefined;
    readonly packIds?: readonly string[] | undefined;
    readonly chargerId?: string | null | undefined;
    readonly addOnIds?: readonly string[] | undefined;
    readonly limitsId?: string | null | undefined;
  },
  stock: { readonly [K in PartKind]?: readonly Part[] | undefined },
): RevisionParts | undefined {
  const find = <K extends PartKind>(kind: K, id: string | null | undefined): Part<K> | undefined =>
    stock[kind]?.find((part) => part.id === id) as Part<K> | undefined;
  const bike = find('bikes', chosen.bikeId);
  const kit = find('kits', chosen.kitId);
  if (!bike || (!kit && chosen.kitId !== NO_KIT_ID)) return undefined;
  const all = <K extends PartKind>(kind: K, ids: readonly string[] | undefined): Part<K>[] =>
    (ids ?? []).map((id) => find(kind, id)).filter((part): part is Part<K> => part !== undefined);
  return {
    bike,
    kit: kit ?? null,
    packs: all('packs', chosen.packIds),
    charger: find('chargers', chosen.chargerId) ?? null,
    addOns: all('add-ons', chosen.addOnIds),
    limits: find('limits', chosen.limitsId) ?? null,
  };
}

/** What is shown, and what a form holds, for a bike before conversion. */
export const NO_KIT = 'No kit: the bike before conversion';
export const NO_KIT_ID = 'none';

/** For a form in which nothing is typed yet. */
export const EMPTY_SETTINGS: SetupSettings = setupSettingsSchema.parse({});
export const EMPTY_FIT: SetupFit = setupFitSchema.parse({});
