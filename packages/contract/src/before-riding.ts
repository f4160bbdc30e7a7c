import { z } from 'zod';
import {
  daySchema,
  reasonSchema,
  signatureSchema,
  versionSchema,
  zeroOrMoreOrUnknown,
  positiveOrUnknown,
} from './common.js';
import { figureSchema } from './figures.js';
import { markKindSchema } from './setups.js';

/** Of each check in hand, when the mark was set that the page shows; null where it shows none. Without it nothing is compared. */
const seenMarksSchema = z.record(z.string().min(1).max(60), z.iso.datetime().nullable()).optional();

/** Checks marked at once, by one person, with one reason. */
export const markInputSchema = z
  .strictObject({
    ids: z.array(z.string().min(1).max(60)).min(1).max(80),
    kind: markKindSchema,
    by: signatureSchema,
    reason: z.string().trim().max(400).default(''),
    seen: seenMarksSchema,
  })
  .refine(({ kind, reason }) => kind === 'passed' || reason.length >= 5, {
    message: 'Write the reason in a few words.',
    path: ['reason'],
  });
export type MarkInput = z.output<typeof markInputSchema>;
export const unmarkSchema = z.strictObject({
  ids: z.array(z.string().min(1).max(60)).min(1).max(80),
  seen: seenMarksSchema,
});
export type Unmark = z.output<typeof unmarkSchema>;

/** Gates of a revision waived together when rides are brought in that were ridden before. */
export const clearanceWaiverSchema = z.strictObject({ by: signatureSchema, reason: reasonSchema });

const stepFields = {
  id: z.string().min(1).max(60),
  title: z.string().trim().min(1, 'Name the step.').max(120),
  detail: z.string().max(1000).default(''),
  tools: z.array(z.string().trim().min(1).max(60)).max(20).default([]),
  caution: z.string().max(400).default(''),
};
export const fittingStepInputSchema = z.strictObject({
  ...stepFields,
  isDone: z.boolean().default(false),
  /** Without what the running clock adds. */
  elapsedS: z.number().min(0).max(10_000_000).default(0),
  difficulty: z.int().min(1).max(5).nullable().default(null),
  trouble: z.string().max(1000).default(''),
  cure: z.string().max(1000).default(''),
});
export type FittingStepInput = z.output<typeof fittingStepInputSchema>;
export const fittingStepSchema = z.strictObject({
  ...fittingStepInputSchema.shape,
  runningSince: z.iso.datetime().nullable(),
});
export type FittingStep = z.output<typeof fittingStepSchema>;
const stepsSchema = z
  .array(fittingStepInputSchema)
  .max(80, 'At most 80 steps.')
  .refine((steps) => new Set(steps.map(({ id }) => id)).size === steps.length, 'Two steps have the same id.');
export const fittingInputSchema = z.strictObject({ version: z.int().min(0), steps: stepsSchema });
export const fittingSchema = z.strictObject({
  setupId: z.uuid(),
  /** 0 while nothing is stored: the steps are those the setup asks for. */
  version: z.int().min(0),
  updatedAt: z.iso.datetime().nullable(),
  steps: z.array(fittingStepSchema),
  /** The server's clock when it answered, so that a running step shows the right time whatever this browser's clock says. */
  now: z.iso.datetime(),
});
export type Fitting = z.output<typeof fittingSchema>;
export const clockInputSchema = z.strictObject({
  version: z.int().min(0),
  stepId: z.string().min(1).max(60),
  isRunning: z.boolean(),
});
export const fittingSummarySchema = z.strictObject({
  setupId: z.uuid(),
  setupName: z.string(),
  kitName: z.string(),
  steps: z.int(),
  done: z.int(),
  elapsedS: z.number(),
  hardest: z.strictObject({ title: z.string(), difficulty: z.int() }).nullable(),
  troubles: z.int(),
  tools: z.array(z.string()),
});
export type FittingSummary = z.output<typeof fittingSummarySchema>;
export const fittingTemplateInputSchema = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name.').max(80),
  steps: z.array(z.strictObject(stepFields)).min(1, 'No steps to save.').max(80),
});
export const fittingTemplateSchema = z.strictObject({
  id: z.uuid(),
  ...fittingTemplateInputSchema.shape,
  updatedAt: z.iso.datetime(),
});
/** `seen`: when the one of this name that is to be replaced was stored; null for a new name. */
export const saveFittingTemplateSchema = z.strictObject({
  ...fittingTemplateInputSchema.shape,
  seen: z.iso.datetime().nullable().default(null),
});
export type SaveFittingTemplate = z.input<typeof saveFittingTemplateSchema>;
export type FittingTemplate = z.output<typeof fittingTemplateSchema>;

const answerOrOpen = z.boolean().nullable().default(null);
export const standReadingsSchema = z.strictObject({
  rollOutTurns: positiveOrUnknown(100),
  rollOutM: positiveOrUnknown(300),
  rollOutLimitMm: positiveOrUnknown(200),
  timedTurns: positiveOrUnknown(10_000),
  timedS: positiveOrUnknown(10_000),
  displaySpeedKmh: positiveOrUnknown(150),
  noLoadSpeedKmh: positiveOrUnknown(150),
  noLoadCurrentA: zeroOrMoreOrUnknown(50),
  spinDownS: z.array(z.number().positive().max(600)).max(20).default([]),
  frontKg: positiveOrUnknown(300),
  rearKg: positiveOrUnknown(300),
  scaleLimitKg: positiveOrUnknown(10),
});
export const standInputSchema = z.strictObject({
  version: z.int().min(0),
  day: daySchema,
  by: signatureSchema,
  directionRight: answerOrOpen,
  spinsFreely: answerOrOpen,
  brakeCuts: answerOrOpen,
  readings: standReadingsSchema,
  note: z.string().max(1000).default(''),
});
export type StandInput = z.output<typeof standInputSchema>;
export const standRecordSchema = z.strictObject({
  ...standInputSchema.shape,
  version: versionSchema,
  revisionId: z.uuid(),
  revisionNumber: z.int(),
  figures: z.array(figureSchema),
});
export type StandRecord = z.output<typeof standRecordSchema>;

export const findingInputSchema = z.strictObject({
  revisionId: z.uuid(),
  symptom: z.string().min(1).max(40),
  /** One of the listed suspects, or null for another cause. */
  suspect: z.string().max(40).nullable().default(null),
  cause: z.string().trim().min(3, 'Say what it was.').max(400),
  cure: z.string().trim().max(400).default(''),
  by: signatureSchema,
});
export const findingSchema = z.strictObject({
  id: z.uuid(),
  ...findingInputSchema.shape,
  revisionNumber: z.int(),
  at: z.iso.datetime(),
});
export type Finding = z.output<typeof findingSchema>;

export const photoOwnerSchema = z.enum(['setup', 'bike', 'kit', 'pack', 'charger', 'add-on', 'log-entry']);
export type PhotoOwner = z.output<typeof photoOwnerSchema>;
export const photoFieldsSchema = z.strictObject({
  owner: photoOwnerSchema,
  ownerId: z.uuid(),
  /** Fitting step the picture belongs to; empty for the thing as a whole. */
  step: z.string().max(60).default(''),
  caption: z.string().trim().max(200).default(''),
});
/** `id`: the sender's own, so that sending twice is once. */
export const photoInputSchema = z.strictObject({ ...photoFieldsSchema.shape, id: z.uuid().optional() });
export type PhotoInput = z.output<typeof photoInputSchema>;
export const photoSchema = z.strictObject({
  id: z.uuid(),
  ...photoFieldsSchema.shape,
  width: z.int(),
  height: z.int(),
  byteCount: z.int(),
  createdAt: z.iso.datetime(),
});
export type Photo = z.output<typeof photoSchema>;

export const photoOwnerQuerySchema = z.strictObject({ owner: photoOwnerSchema, ownerId: z.uuid() });
