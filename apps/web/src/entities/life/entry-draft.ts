import { LIFE_PARTS, USUAL_STAGES, type FollowUpKey, type LifeKind, type LifePartKey } from '@ebrix/core/life';
import { entryInputSchema, type EntryInput, type LogEntry, type Subject } from '@ebrix/contract';

/** An entry as it is typed: one field for everything any kind may ask for. */
export interface EntryDraft {
  readonly kind: LifeKind;
  readonly day: string;
  readonly odometerKm: number | null;
  readonly costAmount: number | null;
  readonly costCurrency: string;
  readonly by: string;
  readonly words: string;
  readonly way: 'reading' | 'rebase' | 'trip';
  readonly km: number | null;
  readonly wheelFactor: number | null;
  readonly kWh: number | null;
  readonly hours: number | null;
  readonly extent: 'full' | 'part';
  readonly part: LifePartKey;
  readonly symptom: string | null;
  readonly effect: 'danger' | 'limped' | 'nuisance' | 'stopped';
  readonly daysOff: number | null;
  readonly cause: string;
  readonly cure: string;
  readonly underWarranty: boolean;
  readonly why: 'failed' | 'precaution' | 'upgrade' | 'worn';
  readonly items: readonly string[];
  readonly value: number | null;
  readonly isFine: boolean;
  readonly stage: string;
  readonly answers: Readonly<Partial<Record<FollowUpKey, number>>>;
  readonly changed: string;
  readonly use: string;
}

export function emptyDraft(day: string, by = '', kind: LifeKind = 'odometer'): EntryDraft {
  return {
    kind,
    day,
    odometerKm: null,
    costAmount: null,
    costCurrency: 'EUR',
    by,
    words: '',
    way: 'reading',
    km: null,
    wheelFactor: null,
    kWh: null,
    hours: null,
    extent: 'full',
    part: Object.keys(LIFE_PARTS)[0] as LifePartKey,
    symptom: null,
    effect: 'nuisance',
    daysOff: null,
    cause: '',
    cure: '',
    underWarranty: false,
    why: 'worn',
    items: [],
    value: null,
    isFine: true,
    stage: USUAL_STAGES[0]!.id,
    answers: {},
    changed: '',
    use: '',
  };
}

export function draftOf({ day, odometerKm, cost, by, details }: LogEntry): EntryDraft {
  const empty = emptyDraft(day, by, details.kind);
  return {
    ...empty,
    odometerKm,
    costAmount: cost?.amount ?? null,
    costCurrency: cost?.currency ?? empty.costCurrency,
    ...details,
  };
}

/** What the contract makes of a draft: an entry, or the sentences of what is missing. */
export function entryOf(
  draft: EntryDraft,
  subject: Subject,
  id: string,
  source: string | null = null,
): { readonly entry: EntryInput } | { readonly issues: readonly string[] } {
  const parsed = entryInputSchema.safeParse({
    id,
    subject,
    source,
    day: draft.day,
    odometerKm: draft.kind === 'odometer' ? null : draft.odometerKm,
    cost: draft.costAmount === null ? null : { amount: draft.costAmount, currency: draft.costCurrency },
    by: draft.by,
    details: detailsOf(draft),
  });
  return parsed.success
    ? { entry: parsed.data }
    : { issues: [...new Set(parsed.error.issues.map(({ path, message }) => `${labelOf(path)}${message}`))] };
}

function detailsOf(draft: EntryDraft): unknown {
  const { kind, words } = draft;
  switch (kind) {
    case 'odometer':
      return { kind, way: draft.way, km: draft.km, wheelFactor: draft.way === 'rebase' ? draft.wheelFactor : null };
    case 'charge':
      return { kind, kWh: draft.kWh, hours: draft.hours, extent: draft.extent };
    case 'fault': {
      const { part, symptom, effect, daysOff, cause, cure, underWarranty } = draft;
      return { kind, part, symptom, words, effect, daysOff, cause, cure, underWarranty };
    }
    case 'replacement':
      return { kind, part: draft.part, why: draft.why, words };
    case 'service':
      return { kind, items: [...draft.items], words };
    case 'inspection':
      return { kind, part: draft.part, value: draft.value, isFine: draft.isFine, words };
    case 'follow-up':
      return { kind, stage: draft.stage, answers: draft.answers, changed: draft.changed, words };
    case 'fitted':
      return { kind, use: draft.use, words };
    case 'accident':
    case 'note':
    case 'taken-off':
      return { kind, words };
  }
}

const LABELS: Readonly<Record<string, string>> = {
  day: 'Day: ',
  odometerKm: 'Odometer: ',
  km: 'Distance: ',
  kWh: 'Energy: ',
  hours: 'Hours: ',
  daysOff: 'Days off: ',
  value: 'Reading: ',
  cost: 'Cost: ',
  wheelFactor: 'True ÷ shown: ',
};
function labelOf(path: readonly PropertyKey[]): string {
  return path.map((step) => LABELS[String(step)]).find((label) => label !== undefined) ?? '';
}
