import { z } from 'zod';
import { idSchema, shortReasonSchema, versionSchema } from './common.js';
import { testKindSchema } from './imports.js';
import { effortSchema, ridingSchema } from './riding.js';
import { letterSchema } from './trials.js';

export const directionSchema = z.union([z.literal(1), z.literal(-1)]);
const clock = z.string().regex(/^([01]\d|2[0-3]):[0-5]\d$/, 'Write a time of day as 08:30.');

export const planTestSchema = z.strictObject({
  testKind: testKindSchema,
  courseId: z.uuid('Choose a course.'),
  /** Assist level held; empty: the one in the setup's settings. */
  level: z.string().trim().max(20).default(''),
  effort: effortSchema.default('steady'),
  laps: z.int().min(1, 'At least one lap.').max(50, 'At most fifty laps.').default(1),
  /** Each run there and back. */
  isBothWays: z.boolean().default(false),
  /** Each run uses part of a charge, from about the same charge on: no full pack before every one. */
  isPartWay: z.boolean().default(false),
});
export type PlanTest = z.output<typeof planTestSchema>;

export const planInputSchema = z.strictObject({
  runsPerSetup: z.int().min(1, 'At least one run of each setup.').max(30, 'At most thirty runs of each setup.'),
  outings: z.int().min(1, 'At least one outing.').max(12, 'At most twelve outings.'),
  /** Each setup once in every round, so that what a round has in common cancels. */
  isBlocked: z.boolean().default(true),
  power: z.number().min(0.5).max(0.99).default(0.8),
  tests: z.array(planTestSchema).min(1, 'Choose at least one test.').max(6, 'At most six tests.'),
  startsAt: clock.default('09:00'),
  hoursPerOuting: z.number().min(0.5).max(16).default(4),
  darkFrom: clock.default('18:00'),
  changeSetupMin: z.number().min(0).max(600).default(20),
  betweenRunsMin: z.number().min(0).max(120).default(5),
  restAfterChargeMin: z.number().min(0).max(600).default(30),
  reserveShare: z.number().min(0).max(0.9).default(0.2),
  hasChargerOut: z.boolean().default(false),
  airTemperatureC: z.number().min(-20).max(45).default(15),
  seed: z
    .int()
    .min(0)
    .max(2 ** 31 - 1)
    .default(1),
});
export type PlanInput = z.output<typeof planInputSchema>;

export const slotStateSchema = z.enum(['planned', 'underway', 'ridden']);
export const planSlotSchema = z.strictObject({
  id: idSchema,
  /** From 1; `position` within it from 1. */
  outing: z.int().min(1),
  position: z.int().min(1),
  revisionId: z.uuid(),
  letter: letterSchema,
  /** Index of the test in the plan. */
  test: z.int().min(0),
  direction: directionSchema,
  state: slotStateSchema,
  rideId: z.uuid().nullable(),
  runId: z.uuid().nullable(),
  /** Ridden before a slot that stands ahead of it: valid, and marked. */
  isOutOfOrder: z.boolean(),
});
export type PlanSlot = z.output<typeof planSlotSchema>;
/** A planned run that is still to be ridden, or was ridden and its log not brought in. */
export const openSlotSchema = z.strictObject({
  slotId: z.uuid(),
  trialId: z.uuid(),
  question: z.string(),
  letter: letterSchema,
  setup: z.string(),
  revisionId: z.uuid(),
  courseId: z.uuid(),
  testKind: testKindSchema,
  direction: directionSchema,
  riding: ridingSchema,
  outing: z.int(),
  /** Its place in riding order among all runs of the plan, from 1. */
  number: z.int(),
});
export type OpenSlot = z.output<typeof openSlotSchema>;
export const planChangeSchema = z.strictObject({ at: z.iso.datetime(), what: z.string(), why: z.string() });
export const planSchema = z.strictObject({
  trialId: z.uuid(),
  version: versionSchema,
  input: planInputSchema,
  slots: z.array(planSlotSchema),
  changes: z.array(planChangeSchema),
});
export type Plan = z.output<typeof planSchema>;

/** Slots in riding order; one that was stored before keeps its id. */
export const slotInputSchema = z.strictObject({
  id: z.uuid().nullable().default(null),
  outing: z.int().min(1).max(12),
  revisionId: z.uuid(),
  /** Arm of the trial; absent: the first with this setup. */
  letter: letterSchema.optional(),
  test: z.int().min(0).max(5),
  direction: directionSchema.default(1),
});
export const planSaveSchema = z.strictObject({
  /** Null: there was no plan yet. */
  version: versionSchema.nullable(),
  input: planInputSchema,
  slots: z.array(slotInputSchema).min(1, 'The plan has no run.').max(400, 'At most 400 runs.'),
  /** Needed once riding has begun. */
  why: shortReasonSchema.nullable().default(null),
});
export type PlanSave = z.output<typeof planSaveSchema>;

export const planBasisQuerySchema = z.strictObject({
  tests: z.array(planTestSchema).min(1).max(6),
  airTemperatureC: z.number().min(-20).max(45).default(15),
});
const spread = z.strictObject({ low: z.number(), middle: z.number(), high: z.number() });
export const rideEstimateSchema = z.strictObject({
  durationS: z.number(),
  energyWh: z.number(),
  energyUncertaintyWh: z.number(),
  distanceM: z.number(),
  coolDownS: z.number(),
  hottestC: z.number().nullable(),
  source: z.enum(['own-runs', 'calibrated', 'model']),
  runs: z.int(),
  /** What the bench does not know of this setup and the model took as usual. */
  assumed: z.array(z.string()),
  endsEmpty: z.boolean(),
});
/** What a plan rests on: scatter of the deciding figure, and what each ride takes. */
export const planBasisSchema = z.strictObject({
  repeatability: z.strictObject({
    relativeSd: z.number(),
    degreesOfFreedom: z.int(),
    runs: z.int(),
    setups: z.int(),
    source: z.enum(['own-runs', 'usual']),
    usual: spread,
  }),
  /** Mean of the deciding figure over own runs: turns an absolute difference that matters into a share. */
  typicalValue: z.number().nullable(),
  setups: z.array(
    z.strictObject({
      letter: letterSchema,
      revisionId: z.uuid(),
      bikeKey: z.string(),
      packKey: z.string(),
      usableWh: z.number().nullable(),
      chargeW: z.number().nullable(),
      chargeEfficiency: z.number(),
      electricityPerKWh: z.number().nullable(),
      currency: z.string(),
      /** One for each test. */
      rides: z.array(rideEstimateSchema),
    }),
  ),
});
export type PlanBasis = z.output<typeof planBasisSchema>;
