import type { SetupFacts } from '@ebrix/core/bench';
import type { UnitSystem } from '@ebrix/core/units';
import {
  partIdsOf,
  newSetupSchema,
  type Part,
  type PartKind,
  type RevisionDetail,
  type RevisionInput,
  type SetupFit,
  type SetupSettings,
} from '@ebrix/contract';
import { partValueText } from '../../entities/part/index.js';
import type { Difference } from '../../shared/ui/ConflictChoice.js';
import { chosenParts, EMPTY_FIT, EMPTY_SETTINGS, NO_KIT, NO_KIT_ID } from './facts.js';
import { SETUP_FIELDS, type SetupField } from './setup-fields.js';

/** What the form of a setup holds: anything may be missing yet, and lists of volts are text. */
export interface ComposeValues {
  readonly name?: string;
  readonly bikeId?: string;
  /** `NO_KIT_ID` for the bike before conversion. */
  readonly kitId?: string;
  readonly packIds?: string[];
  readonly chargerId?: string | null;
  readonly addOnIds?: string[];
  readonly limitsId?: string | null;
  readonly settings?: Partial<SetupSettings>;
  readonly fit?: Partial<Omit<SetupFit, 'restVoltagesV'>> & { readonly restVoltagesV?: string };
  readonly change?: string;
  readonly why?: string;
  readonly isRefitted?: boolean;
}

export function toComposeValues(revision: RevisionDetail | undefined): ComposeValues {
  if (!revision) return { fit: { currency: 'EUR', payloadPlace: 'rear-rack' } };
  const { parts, settings, fit } = revision;
  return {
    ...partIdsOf(parts),
    kitId: parts.kit?.id ?? NO_KIT_ID,
    settings,
    fit: { ...fit, restVoltagesV: fit.restVoltagesV.join(' ') },
  };
}

/** "41,9 41.8" → [41.9, 41.8]; undefined when a word is no number. */
export function readVolts(text: string | undefined): number[] | undefined {
  const words = (text ?? '').split(/[\s;]+/).filter((word) => word !== '');
  const volts = words.map((word) => Number(word.replace(/v$/i, '').replace(',', '.')));
  return volts.every((v) => Number.isFinite(v) && v > 0) ? volts : undefined;
}

/** Unreadable numbers count as unknown while one is still typing. */
function withoutNaN<T extends object>(values: T | undefined): Partial<T> {
  return Object.fromEntries(
    Object.entries(values ?? {}).filter(([, value]) => value !== undefined && !Number.isNaN(value)),
  ) as Partial<T>;
}
function settingsOf(values: ComposeValues): SetupSettings {
  const typed = withoutNaN(values.settings);
  const levels = (typed.levels ?? []).map((level) => ({ ...level, ...nullsFor(level) }));
  return { ...EMPTY_SETTINGS, ...typed, levels };
}
function nullsFor(level: Partial<SetupSettings['levels'][number]>) {
  const known = (value: number | null | undefined): number | null => value ?? null;
  return {
    name: level.name ?? '',
    speedCapKmh: known(level.speedCapKmh),
    pedalShare: known(level.pedalShare),
    throttleShare: known(level.throttleShare),
  };
}
function fitOf(values: ComposeValues): SetupFit {
  const { restVoltagesV, ...rest } = values.fit ?? {};
  return { ...EMPTY_FIT, ...withoutNaN(rest), restVoltagesV: readVolts(restVoltagesV) ?? [] };
}

/** The facts of what is chosen so far, for live sums and checks; undefined until bike and kit are chosen. */
export function liveFacts(
  values: ComposeValues,
  stock: { readonly [K in PartKind]?: readonly Part[] | undefined },
): SetupFacts | undefined {
  const parts = chosenParts(values, stock);
  return parts && { ...parts, settings: settingsOf(values), fit: fitOf(values) };
}

interface Problem {
  readonly name: (string | number)[];
  readonly message: string;
}
export type ReadSetup =
  | { readonly ok: true; readonly name: string; readonly revision: RevisionInput }
  | { readonly ok: false; readonly problems: readonly Problem[] };

/** What was chosen and typed, as the API takes it, or what is wrong at which field. */
export function readSetup(values: ComposeValues, known: { name?: string; basedOn: number | null }): ReadSetup {
  if (readVolts(values.fit?.restVoltagesV) === undefined)
    return {
      ok: false,
      problems: [{ name: ['fit', 'restVoltagesV'], message: 'Volts separated by spaces, for example 41.9 41.8.' }],
    };
  const parsed = newSetupSchema.safeParse({
    name: known.name ?? values.name ?? '',
    notes: '',
    revision: {
      bikeId: values.bikeId,
      kitId: values.kitId === NO_KIT_ID ? null : values.kitId,
      packIds: values.packIds ?? [],
      chargerId: values.chargerId ?? null,
      addOnIds: values.addOnIds ?? [],
      limitsId: values.limitsId ?? null,
      settings: settingsOf(values),
      fit: fitOf(values),
      change: values.change || (known.basedOn === null ? 'As first fitted' : ''),
      why: values.why ?? '',
      isRefitted: values.isRefitted ?? false,
      basedOn: known.basedOn,
    },
  });
  if (parsed.success) return { ok: true, name: parsed.data.name, revision: parsed.data.revision };
  return {
    ok: false,
    problems: parsed.error.issues.map(({ path, message, code }) => ({
      name: path.filter((part) => part !== 'revision') as (string | number)[],
      message: code === 'invalid_type' ? 'Choose one.' : message,
    })),
  };
}

/** Difference between a stored revision and what stands in the form, in words. */
export function revisionDifferences(
  stored: Pick<RevisionDetail, 'fit' | 'parts' | 'settings'>,
  mine: SetupFacts,
  system: UnitSystem,
): Difference[] {
  const names = (list: readonly { readonly name: string }[]): string => list.map(({ name }) => name).join(', ') || '–';
  const { parts } = stored;
  const rows: Difference[] = [
    { label: 'Bike', theirs: parts.bike.name, mine: mine.bike.name },
    { label: 'Kit', theirs: parts.kit?.name ?? NO_KIT, mine: mine.kit?.name ?? NO_KIT },
    { label: 'Packs', theirs: names(parts.packs), mine: names(mine.packs) },
    { label: 'Charger', theirs: parts.charger?.name ?? '–', mine: mine.charger?.name ?? '–' },
    { label: 'Add-ons', theirs: names(parts.addOns), mine: names(mine.addOns) },
    { label: 'Limits', theirs: parts.limits?.name ?? '–', mine: mine.limits?.name ?? '–' },
    ...SETUP_FIELDS.map((field) => ({
      label: field.label,
      theirs: settingText(field, stored[field.of], system),
      mine: settingText(field, mine[field.of], system),
    })),
    { label: 'Levels', theirs: levelText(stored.settings.levels), mine: levelText(mine.settings.levels) },
  ];
  return rows.filter((row) => row.theirs !== row.mine);
}
/** A field of settings or fit in words. */
export function settingText(field: SetupField, values: object, system: UnitSystem): string {
  return partValueText(field, (values as Record<string, unknown>)[field.name], system);
}
function levelText(levels: SetupFacts['settings']['levels']): string {
  return (
    levels.map(({ name, speedCapKmh }) => (speedCapKmh === null ? name : `${name} to ${speedCapKmh}`)).join(', ') || '–'
  );
}
