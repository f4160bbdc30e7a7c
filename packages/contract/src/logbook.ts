import { z } from 'zod';
import {
  FAULT_EFFECTS,
  FOLLOW_UP_KEYS,
  GROUP_BY,
  LIFE_KINDS,
  LIFE_PART_KEYS,
  REPLACED_BECAUSE,
  type FaultEffect,
  type FollowUpKey,
  type GroupBy,
  type LifeKind,
  type LifePartKey,
  type ReplacedBecause,
} from '@ebrix/core/life';
import { daySchema, nameSchema, notesSchema, storedFields, versioned, type Immutable } from './common.js';
import { currencySchema } from './money.js';

export const keysOf = <K extends string>(record: Readonly<Record<K, unknown>>) =>
  z.enum(Object.keys(record) as [K, ...K[]]);
export const lifePartSchema = z.enum(LIFE_PART_KEYS as [LifePartKey, ...LifePartKey[]]);
export const faultEffectSchema = keysOf<FaultEffect>(FAULT_EFFECTS);
export const lifeKindSchema = keysOf<LifeKind>(LIFE_KINDS);
export const groupBySchema = keysOf<GroupBy>(GROUP_BY);

const words = z.string().trim().max(2000, 'At most 2000 characters.').default('');
const someWords = z.string().trim().min(1, 'Say what happened.').max(2000, 'At most 2000 characters.');
export const kmSchema = z.number('Write a number.').min(0, 'At least 0.').max(1e6, 'At most a million.');
const entryDetailsSchema = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('odometer'),
    way: z.enum(['reading', 'rebase', 'trip']).default('reading'),
    km: kmSchema,
    /** True distance ÷ shown distance after a display or wheel size was changed. */
    wheelFactor: z.number().min(0.5, 'At least 0.5.').max(2, 'At most 2.').nullable().default(null),
  }),
  z.strictObject({
    kind: z.literal('charge'),
    kWh: z.number('Write a number.').positive('Must be above 0.').max(20, 'At most 20 kWh.').nullable().default(null),
    hours: z.number('Write a number.').positive('Must be above 0.').max(48, 'At most 48 h.').nullable().default(null),
    extent: z.enum(['full', 'part']).default('full'),
  }),
  z.strictObject({
    kind: z.literal('fault'),
    part: lifePartSchema,
    symptom: z.string().max(40).nullable().default(null),
    words,
    effect: faultEffectSchema,
    daysOff: z.number('Write a number.').min(0, 'At least 0.').max(3650).nullable().default(null),
    cause: words,
    cure: words,
    underWarranty: z.boolean().default(false),
  }),
  z.strictObject({
    kind: z.literal('replacement'),
    part: lifePartSchema,
    why: keysOf<ReplacedBecause>(REPLACED_BECAUSE),
    words,
  }),
  z.strictObject({
    kind: z.literal('service'),
    items: z.array(z.string().min(1).max(60)).max(60).default([]),
    words,
  }),
  z.strictObject({
    kind: z.literal('inspection'),
    part: lifePartSchema,
    /** In the part's own measure: chain in % longer, lining and tread in mm left. */
    value: z.number('Write a number.').min(0, 'At least 0.').max(1000).nullable().default(null),
    isFine: z.boolean().default(true),
    words,
  }),
  z.strictObject({ kind: z.literal('accident'), words: someWords }),
  z.strictObject({
    kind: z.literal('follow-up'),
    stage: z.string().min(1).max(60),
    answers: z.partialRecord(z.enum(FOLLOW_UP_KEYS as [FollowUpKey, ...FollowUpKey[]]), z.int().min(1).max(5)),
    changed: words,
    words,
  }),
  z.strictObject({ kind: z.literal('note'), words: someWords }),
  z.strictObject({ kind: z.literal('fitted'), use: z.string().trim().max(80).default(''), words }),
  z.strictObject({ kind: z.literal('taken-off'), words }),
]);
export type EntryDetails = Immutable<z.output<typeof entryDetailsSchema>>;

export const subjectKindSchema = z.enum(['setup', 'bike', 'conversion']);
/** What an entry is about: a tested setup, a bike without one, or a conversion that is out of sight. */
export const subjectSchema = z.strictObject({ kind: subjectKindSchema, id: z.uuid() });
export type Subject = Immutable<z.output<typeof subjectSchema>>;
const entryFields = {
  subject: subjectSchema,
  day: daySchema.refine((day) => day >= '1980-01-01' && day < '2200-01-01', 'Check the year.'),
  /** As the display showed it; for a conversion out of sight, km since it was fitted. */
  odometerKm: kmSchema.nullable().default(null),
  cost: z
    .strictObject({ amount: z.number('Write a number.').min(0).max(1e6), currency: currencySchema })
    .nullable()
    .default(null),
  by: z.string().trim().max(80, 'At most 80 characters.').default(''),
  /** The finding on the stand or the mark of a ride that it was made of; it lands here once. */
  source: z
    .string()
    .regex(/^(finding|mark):[\da-f-]{36}$/)
    .nullable()
    .default(null),
  details: entryDetailsSchema,
};
/** The id is the sender's own, so that sending twice is once. */
export const entryInputSchema = z.strictObject({ id: z.uuid(), ...entryFields });
export type EntryInput = Immutable<z.output<typeof entryInputSchema>>;
export const entriesPostSchema = z.strictObject({
  entries: z.array(entryInputSchema).min(1, 'Nothing to store.').max(500, 'At most 500 at once.'),
});
export const entriesStoredSchema = z.strictObject({
  stored: z.int(),
  /** Had come in before, by the same id or from the same source. */
  already: z.int(),
});
export const entryChangeSchema = versioned(z.strictObject(entryFields));
export const logEntrySchema = z.strictObject({
  id: z.uuid(),
  version: z.int(),
  ...entryFields,
  subjectName: z.string(),
  updatedAt: z.iso.datetime(),
});
export type LogEntry = Immutable<z.output<typeof logEntrySchema>>;
export const entriesQuerySchema = z.strictObject({
  setup: z.uuid().optional(),
  bike: z.uuid().optional(),
  conversion: z.uuid().optional(),
  kind: lifeKindSchema.optional(),
  /** Goes on behind an entry: "2026-05-01 id". */
  after: z
    .string()
    .regex(/^\d{4}-\d\d-\d\d [\da-f-]{36}$/)
    .optional(),
  limit: z.coerce.number().pipe(z.int().min(1).max(500)).default(100),
});
export const entriesPageSchema = z.strictObject({ entries: z.array(logEntrySchema), next: z.string().nullable() });
export type EntriesPage = Immutable<z.output<typeof entriesPageSchema>>;

const motorKindSchema = z.enum(['front-hub', 'rear-hub-geared', 'rear-hub-direct', 'mid']);
const conversionFields = {
  name: nameSchema,
  kit: z.string().trim().max(80).default(''),
  motorKind: motorKindSchema.nullable().default(null),
  pack: z.string().trim().max(80).default(''),
  use: z.string().trim().max(80).default(''),
  fittedOn: daySchema.nullable().default(null),
  /** Ridden since it was fitted, as far as anyone knows, and on which day. */
  km: kmSchema.nullable().default(null),
  kmOn: daySchema.nullable().default(null),
  notes: notesSchema,
};
function daysFit(
  { km, kmOn, fittedOn }: { km: number | null; kmOn: string | null; fittedOn: string | null },
  context: z.RefinementCtx,
): void {
  const refuse = (message: string): void => context.addIssue({ code: 'custom', path: ['kmOn'], message });
  if (km !== null && kmOn === null) refuse('Say on which day that was.');
  if (fittedOn !== null && kmOn !== null && kmOn < fittedOn) refuse('That is before it was fitted.');
}
export const conversionInputSchema = z.strictObject(conversionFields).superRefine(daysFit);
export type ConversionInput = Immutable<z.output<typeof conversionInputSchema>>;
export const conversionChangeSchema = versioned(z.strictObject(conversionFields)).superRefine(daysFit);
export const conversionSchema = z.strictObject({ ...storedFields, ...conversionFields });
export type Conversion = Immutable<z.output<typeof conversionSchema>>;

const serviceItemSchema = z
  .strictObject({
    id: z.string().min(1).max(60),
    part: lifePartSchema,
    what: z.string().trim().min(1, 'Say what is to be done.').max(120),
    firstKm: z.number().positive('Must be above 0.').max(1e6).nullable(),
    everyKm: z.number().positive('Must be above 0.').max(1e6).nullable(),
    everyDays: z.int().positive('Must be above 0.').max(3650).nullable(),
    drive: z.enum(['any', 'hub', 'mid']),
  })
  .refine(({ everyKm, everyDays }) => everyKm !== null || everyDays !== null, 'After how many km, or days?');
const stageSchema = z
  .strictObject({
    id: z.string().min(1).max(60),
    label: z.string().trim().min(1, 'Name it.').max(80),
    afterKm: z.number().positive('Must be above 0.').max(1e6).nullable(),
    afterDays: z.int().positive('Must be above 0.').max(3650).nullable(),
  })
  .refine(({ afterKm, afterDays }) => afterKm !== null || afterDays !== null, 'After how many km, or days?');
const unique = (list: readonly { readonly id: string }[]): boolean =>
  new Set(list.map(({ id }) => id)).size === list.length;
const settingsFields = {
  items: z.array(serviceItemSchema).max(60, 'At most sixty.').refine(unique, 'Two have one id.'),
  stages: z.array(stageSchema).max(12, 'At most twelve.').refine(unique, 'Two have one id.'),
  lowestPackShare: z.number().min(0.3, 'At least 30 %.').max(0.95, 'At most 95 %.'),
};
export const logbookSettingsSchema = z.strictObject({ version: z.int().min(0), ...settingsFields });
export type LogbookSettings = Immutable<z.output<typeof logbookSettingsSchema>>;
