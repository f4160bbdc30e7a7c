import { z } from 'zod';
import { nameSchema, type Immutable } from './common.js';
import { gaugeSchema, manualReadingsSchema, mappingSchema, testKindSchema } from './imports.js';
import { chemistrySchema, motorKindSchema } from './parts.js';
import { openRiding, ridingSchema } from './riding.js';

/** A setup as a notebook names it: one that is there, or one of which hardly anything is known yet. */
export const notebookSetupSchema = z.strictObject({
  /** As the rides name it. */
  written: z.string().trim().min(1).max(80),
  revisionId: z.uuid().nullable().default(null),
  /** For one that is not there: what the checks and the energy need at least. */
  sketch: z
    .strictObject({
      name: nameSchema,
      motorKind: motorKindSchema,
      chemistry: chemistrySchema.default('li-ion-nmc'),
      /** Of its gauge when full; null: not known, or none. */
      gaugeBars: z.int('Write a whole number.').min(1).max(100).nullable().default(null),
      packVoltageV: z.number().positive('Must be above 0.').max(120).nullable().default(null),
      packCapacityAh: z.number().positive('Must be above 0.').max(500).nullable().default(null),
    })
    .nullable()
    .default(null),
});
export const notebookRideSchema = z.strictObject({
  date: z.iso.date('Give the day of the ride.'),
  setup: z.string().trim().min(1).max(80),
  /** Empty: on the road. */
  course: z.string().trim().max(80).default(''),
  testKind: testKindSchema.default('range'),
  riding: ridingSchema.default(openRiding),
  gauge: gaugeSchema.nullable().default(null),
  emptied: z.boolean().default(false),
  perceivedEffort: z.number().min(0).max(10).nullable().default(null),
  airTemperatureC: z.number().min(-40).max(55).nullable().default(null),
  notes: z.string().max(4000).default(''),
  readings: manualReadingsSchema,
});
/** Rides typed in from paper, stored together or not at all. */
export const notebookInputSchema = z.strictObject({
  setups: z.array(notebookSetupSchema).min(1, 'Which setups were ridden?').max(20, 'At most twenty setups at once.'),
  rides: z.array(notebookRideSchema).min(1, 'At least one ride.').max(300, 'At most 300 rides at once.'),
});
export type NotebookInput = Immutable<z.output<typeof notebookInputSchema>>;
/** Logs that were looked at, to be kept as runs of setups that are there or are sketched; all or nothing. */
export const keepLogsSchema = z.strictObject({
  setups: z.array(notebookSetupSchema).min(1, 'Which setups were ridden?').max(20, 'At most twenty setups at once.'),
  logs: z
    .array(
      z.strictObject({
        importId: z.uuid(),
        setup: z.string().trim().min(1).max(80),
        date: z.iso.date('Give the day of the ride.'),
        testKind: testKindSchema.default('range'),
        mapping: mappingSchema.nullable().default(null),
      }),
    )
    .min(1, 'At least one log.')
    .max(200, 'At most 200 logs at once.'),
});
export type KeepLogs = Immutable<z.output<typeof keepLogsSchema>>;
export const notebookAnswerSchema = z.strictObject({
  /** Files that become runs in a moment, one for each ride. */
  importIds: z.array(z.uuid()),
  setups: z.array(z.strictObject({ written: z.string(), revisionId: z.uuid(), name: z.string() })),
});
export type NotebookAnswer = z.output<typeof notebookAnswerSchema>;
