import { z } from 'zod';
import {
  nameSchema,
  notesSchema,
  positiveOrUnknown,
  storedFields,
  zeroOrMoreOrUnknown,
  type Immutable,
} from './common.js';
import { partInputSchemas, partSchemas, placeSchema } from './parts.js';

const partReference = z.strictObject({ id: z.uuid(), name: z.string() });
const shareOrUnset = z.number().min(0).max(3, 'At most 300 %.').nullable().default(null);
export const levelSchema = z.strictObject({
  name: z.string().trim().min(1, 'Name the level.').max(20),
  speedCapKmh: positiveOrUnknown(120),
  pedalShare: shareOrUnset,
  throttleShare: shareOrUnset,
});
/** What was programmed. */
export const setupSettingsSchema = z.strictObject({
  assistLevel: z.string().trim().max(40).default(''),
  speedLimitKmh: positiveOrUnknown(120),
  wheelCircumferenceM: positiveOrUnknown(4),
  currentLimitA: positiveOrUnknown(200),
  cutoffV: positiveOrUnknown(120),
  regenerationA: zeroOrMoreOrUnknown(100),
  levels: z.array(levelSchema).max(12, 'At most twelve levels.').default([]),
  /** What the display itself was set to. */
  displayUnits: z.enum(['km', 'miles']).nullable().default(null),
  wheelName: z.string().trim().max(40).default(''),
  walkMode: z.boolean().nullable().default(null),
  reverse: z.boolean().nullable().default(null),
  brightness: z.string().trim().max(20).default(''),
  note: z.string().max(1000).default(''),
});
/** How the parts were put together, and the heaviest load they are meant for. */
export const setupFitSchema = z.strictObject({
  washersLeftMm: zeroOrMoreOrUnknown(30),
  washersRightMm: zeroOrMoreOrUnknown(30),
  cogSpacerMm: positiveOrUnknown(20),
  cogSpacers: z.int('Write a whole number.').min(0).max(20).nullable().default(null),
  discBoltMm: positiveOrUnknown(60),
  discWasherMm: zeroOrMoreOrUnknown(20),
  rotorThicknessMm: positiveOrUnknown(5),
  shellSpacerMm: positiveOrUnknown(40),
  shellSpacers: z.int('Write a whole number.').min(0).max(40).nullable().default(null),
  chainLineMm: positiveOrUnknown(120),
  batteryTube: z.enum(['down-tube', 'seat-tube']).nullable().default(null),
  restVoltagesV: z.array(z.number().positive().max(120)).max(4).default([]),
  riderMassKg: positiveOrUnknown(250),
  payloadKg: zeroOrMoreOrUnknown(300),
  payloadPlace: placeSchema.default('rear-rack'),
  electricityPerKWh: positiveOrUnknown(10),
  currency: z
    .string()
    .regex(/^[A-Z]{3}$/, 'Three capital letters, for example EUR.')
    .default('EUR'),
});
export type SetupSettings = z.output<typeof setupSettingsSchema>;
export type SetupFit = z.output<typeof setupFitSchema>;

const revisionInputFields = {
  bikeId: z.uuid('Choose a bike.'),
  /** Null: the bike before conversion, without kit and pack, as the baseline of a comparison. */
  kitId: z.uuid('Choose a kit.').nullable(),
  packIds: z.array(z.uuid()).max(4, 'At most four packs.'),
  chargerId: z.uuid().nullable().default(null),
  addOnIds: z.array(z.uuid()).max(20, 'At most twenty add-ons.').default([]),
  limitsId: z.uuid().nullable().default(null),
  settings: setupSettingsSchema,
  fit: setupFitSchema.default(setupFitSchema.parse({})),
  /** What changed against the revision before, in the tester's words. */
  change: z.string().trim().min(1, 'Say what changed.').max(400),
  why: z.string().trim().max(400).default(''),
  /** Something was taken apart for it: what was looked at before does not count any more. */
  isRefitted: z.boolean().default(false),
  /** Number of the revision this one was made from; another window may have added one meanwhile. Absent: not checked. */
  basedOn: z.int().min(1).nullable().default(null),
};
/** A kit needs a pack, and a pack a kit; said together with what else is wrong. */
const PACK_MISSING = { error: 'Choose at least one pack.', when: hasList('packIds') };
const KIT_MISSING = 'Without a kit there is no pack: choose the kit, or take the packs away.';
function hasList(field: string) {
  return ({ value }: { readonly value: unknown }): boolean =>
    typeof value === 'object' && value !== null && Array.isArray((value as Record<string, unknown>)[field]);
}
export const revisionInputSchema = z
  .strictObject(revisionInputFields)
  .refine(({ kitId, packIds }) => kitId === null || packIds.length > 0, { path: ['packIds'], ...PACK_MISSING })
  .refine(({ kitId, packIds }) => kitId !== null || packIds.length === 0, { path: ['packIds'], error: KIT_MISSING });
export type RevisionInput = z.output<typeof revisionInputSchema>;
export const setupInputSchema = z.strictObject({ name: nameSchema, notes: notesSchema });
export const newSetupSchema = z.strictObject({ ...setupInputSchema.shape, revision: revisionInputSchema });

/** The parts of a revision as they were when it was made. */
export const revisionPartsSchema = z.strictObject({
  bike: partSchemas.bikes,
  kit: partSchemas.kits.nullable().default(null),
  packs: z.array(partSchemas.packs),
  charger: partSchemas.chargers.nullable().default(null),
  addOns: z.array(partSchemas['add-ons']).default([]),
  limits: partSchemas.limits.nullable().default(null),
});
export type RevisionParts = z.output<typeof revisionPartsSchema>;

/** The parts a revision is of, as another one with the same parts would name them. */
export function partIdsOf(
  parts: Immutable<RevisionParts>,
): Pick<RevisionInput, 'addOnIds' | 'bikeId' | 'chargerId' | 'kitId' | 'limitsId' | 'packIds'> {
  return {
    bikeId: parts.bike.id,
    kitId: parts.kit?.id ?? null,
    packIds: parts.packs.map(({ id }) => id),
    chargerId: parts.charger?.id ?? null,
    addOnIds: parts.addOns.map(({ id }) => id),
    limitsId: parts.limits?.id ?? null,
  };
}

export const setupRevisionSchema = z.strictObject({
  id: z.uuid(),
  number: z.int().min(1),
  bike: partReference,
  kit: partReference.nullable(),
  packs: z.array(partReference),
  settings: setupSettingsSchema,
  change: z.string(),
  why: z.string(),
  createdAt: z.iso.datetime(),
  runCount: z.int(),
});
/** How a revision stands before it is ridden. */
export const clearanceSchema = z.strictObject({
  failed: z.int(),
  open: z.int(),
  /** Pass with usual values, and ask to be measured. */
  likely: z.int().default(0),
  waived: z.int(),
  passed: z.int(),
  /** Failed or open checks that can hurt someone. */
  stops: z.int(),
  openClearance: z.int(),
  items: z.int(),
});
export type Clearance = z.output<typeof clearanceSchema>;

export const setupSchema = z.strictObject({
  ...storedFields,
  name: z.string(),
  notes: z.string(),
  /** Newest first. */
  revisions: z.array(setupRevisionSchema),
  trials: z.array(z.strictObject({ id: z.uuid(), question: z.string() })),
  /** Of the newest revision. */
  clearance: clearanceSchema,
});
export type Setup = z.output<typeof setupSchema>;
export type SetupRevision = z.output<typeof setupRevisionSchema>;

export const markKindSchema = z.enum(['passed', 'waived']);
/** A check or gate that someone passed by eye or waived in writing. */
export const markSchema = z.strictObject({
  id: z.string(),
  kind: markKindSchema,
  by: z.string(),
  reason: z.string(),
  at: z.iso.datetime(),
});
export const revisionDetailSchema = z.strictObject({
  ...setupRevisionSchema.shape,
  parts: revisionPartsSchema,
  fit: setupFitSchema,
  marks: z.array(markSchema),
});
export type RevisionDetail = z.output<typeof revisionDetailSchema>;
export const setupDetailSchema = z.strictObject({ ...setupSchema.shape, revisions: z.array(revisionDetailSchema) });
export type SetupDetail = z.output<typeof setupDetailSchema>;

/** One file holds a setup with all its parts; published as JSON Schema under `/api/schemas/setup.json`. */
export const setupFileSchema = z
  .strictObject({
    format: z.literal('ebrix-setup', 'This is not a setup file: "format" has to be "ebrix-setup".'),
    formatVersion: z.literal(1, 'This version of Ebrix reads setup files of version 1.'),
    ...setupInputSchema.shape,
    change: revisionInputFields.change,
    why: revisionInputFields.why,
    settings: setupSettingsSchema,
    fit: setupFitSchema,
    bike: partInputSchemas.bikes,
    /** Null: the bike before conversion. */
    kit: partInputSchemas.kits.nullable(),
    packs: z.array(partInputSchemas.packs).max(4, 'At most four packs.'),
    charger: partInputSchemas.chargers.nullable().default(null),
    addOns: z.array(partInputSchemas['add-ons']).max(20).default([]),
    limits: partInputSchemas.limits.nullable().default(null),
  })
  .refine(({ kit, packs }) => kit === null || packs.length > 0, { path: ['packs'], error: 'At least one pack.' })
  .refine(({ kit, packs }) => kit !== null || packs.length === 0, { path: ['packs'], error: KIT_MISSING });
export type SetupFile = z.output<typeof setupFileSchema>;

/** Consumption by rule of thumb, as the tester holds it; none: the ride model's for each setup, and what its rides taught. */
export const thumbRulesSchema = z
  .array(
    z.strictObject({
      name: z.string().trim().min(1, 'Name the conditions.').max(80),
      whPerKm: z.number().positive('Must be above 0.').max(200, 'At most 200.'),
    }),
  )
  .max(12, 'At most twelve.');
export type ThumbRules = z.output<typeof thumbRulesSchema>;
/** As a bare list they are stored whatever is there; with what was seen only if that is still so. */
export const thumbRulesPutSchema = z.union([
  thumbRulesSchema,
  z.strictObject({ rules: thumbRulesSchema, seen: thumbRulesSchema }),
]);
