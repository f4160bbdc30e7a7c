import { z } from 'zod';
import { nameSchema, notesSchema, positiveOrUnknown, shareOrUnknown, storedFields } from './common.js';

export const chemistrySchema = z.enum(['li-ion-nmc', 'li-ion-lfp', 'lead-acid']);
export const motorKindSchema = z.enum(['front-hub', 'rear-hub-geared', 'rear-hub-direct', 'mid']);

const riderFields = { name: nameSchema, massKg: positiveOrUnknown(250), notes: notesSchema };
const bikeFields = {
  name: nameSchema,
  massKg: positiveOrUnknown(120),
  wheelCircumferenceM: positiveOrUnknown(4),
  dragAreaM2: positiveOrUnknown(2),
  rollingCoefficient: positiveOrUnknown(0.1),
  notes: notesSchema,
};
const kitFields = {
  name: nameSchema,
  motorKind: motorKindSchema,
  ratedPowerW: positiveOrUnknown(20_000),
  nominalVoltageV: positiveOrUnknown(120),
  currentLimitA: positiveOrUnknown(200),
  massKg: positiveOrUnknown(60),
  notes: notesSchema,
};
const packFields = {
  name: nameSchema,
  chemistry: chemistrySchema,
  seriesCells: z.int().min(1).max(40).nullable().default(null),
  nominalVoltageV: positiveOrUnknown(120),
  capacityAh: positiveOrUnknown(500),
  usableShare: shareOrUnknown,
  measuredEnergyWh: positiveOrUnknown(20_000),
  measuredEnergyUncertaintyWh: positiveOrUnknown(5000),
  massKg: positiveOrUnknown(80),
  notes: notesSchema,
};
/** Stated limits (±) of the instrument; unknown ones are taken from the defaults and shown as such. */
const loggerFields = {
  name: nameSchema,
  voltageGain: shareOrUnknown,
  currentGain: shareOrUnknown,
  currentOffsetA: z.number().min(0).max(10).nullable().default(null),
  distanceGain: shareOrUnknown,
  altitudeM: z.number().min(0).max(100).nullable().default(null),
  calibration: z.string().max(400).default(''),
  notes: notesSchema,
};

export const partInputSchemas = {
  bikes: z.strictObject(bikeFields),
  kits: z.strictObject(kitFields),
  packs: z.strictObject(packFields),
  riders: z.strictObject(riderFields),
  loggers: z.strictObject(loggerFields),
};
export const partSchemas = {
  bikes: z.strictObject({ ...storedFields, ...bikeFields }),
  kits: z.strictObject({ ...storedFields, ...kitFields }),
  packs: z.strictObject({ ...storedFields, ...packFields }),
  riders: z.strictObject({ ...storedFields, ...riderFields }),
  loggers: z.strictObject({ ...storedFields, ...loggerFields }),
};
export const partKindSchema = z.enum(['bikes', 'kits', 'packs', 'riders', 'loggers']);
export type PartKind = z.output<typeof partKindSchema>;
export type PartInput<K extends PartKind = PartKind> = z.output<(typeof partInputSchemas)[K]>;
export type Part<K extends PartKind = PartKind> = z.output<(typeof partSchemas)[K]>;

const partReference = z.strictObject({ id: z.uuid(), name: z.string() });
export const setupSettingsSchema = z.strictObject({
  assistLevel: z.string().trim().max(40).default(''),
  speedLimitKmh: positiveOrUnknown(120),
  note: z.string().max(1000).default(''),
});
export const revisionInputSchema = z.strictObject({
  bikeId: z.uuid(),
  kitId: z.uuid(),
  packIds: z.array(z.uuid()).min(1, 'Choose at least one pack.').max(4, 'At most four packs.'),
  settings: setupSettingsSchema,
  /** What changed against the revision before, in the tester's words. */
  change: z.string().trim().min(1, 'Say what changed.').max(400),
});
export type RevisionInput = z.output<typeof revisionInputSchema>;
export const setupInputSchema = z.strictObject({ name: nameSchema, notes: notesSchema });
export const newSetupSchema = z.strictObject({ ...setupInputSchema.shape, revision: revisionInputSchema });
export const setupRevisionSchema = z.strictObject({
  id: z.uuid(),
  number: z.int().min(1),
  bike: partReference,
  kit: partReference,
  packs: z.array(partReference),
  settings: setupSettingsSchema,
  change: z.string(),
  createdAt: z.iso.datetime(),
  runCount: z.int(),
});
export const setupSchema = z.strictObject({
  ...storedFields,
  name: z.string(),
  notes: z.string(),
  /** Newest first. */
  revisions: z.array(setupRevisionSchema),
  trials: z.array(z.strictObject({ id: z.uuid(), question: z.string() })),
});
export type Setup = z.output<typeof setupSchema>;
export type SetupRevision = z.output<typeof setupRevisionSchema>;
