import { z } from 'zod';
import { CRITERION_KEYS, valueFunctionProblem, type CriterionKey } from '@ebrix/core/decision';
import { nameSchema, notesSchema, storedFields, versioned, type Immutable } from './common.js';
import { letterSchema } from './trials.js';

export const criterionKeySchema = z.enum(CRITERION_KEYS as [CriterionKey, ...CriterionKey[]]);
/** Corners of a value function: worth from 0, no good, to 1, as good as one could wish; in the unit of the figure. */
export const worthSchema = z
  .array(z.strictObject({ at: z.number(), worth: z.number().min(0).max(1) }))
  .min(2, 'It takes two corners or more.')
  .max(9, 'At most nine corners.')
  .refine((points) => valueFunctionProblem({ points }) === undefined, 'The corners have to follow one another.');
const criterionInputSchema = z.strictObject({
  key: criterionKeySchema,
  weight: z.number().min(0, 'At least 0.').max(100, 'At most 100.'),
  /** Null: the usual one. */
  worth: worthSchema.nullable().default(null),
});
const mustHaveInputSchema = z
  .strictObject({
    key: criterionKeySchema,
    atLeast: z.number().nullable().default(null),
    atMost: z.number().nullable().default(null),
    /** Of a figure: as ridden on this course; null: where all were ridden. */
    courseId: z.uuid().nullable().default(null),
  })
  .refine(({ atLeast, atMost }) => atLeast !== null || atMost !== null, 'Say how much at least, or at most.')
  .refine(
    ({ atLeast, atMost }) => atLeast === null || atMost === null || atLeast <= atMost,
    'At least is more than at most.',
  );
const useFieldsSchema = z.strictObject({
  name: nameSchema,
  notes: notesSchema,
  criteria: z
    .array(criterionInputSchema)
    .max(20, 'At most twenty.')
    .refine((list) => new Set(list.map(({ key }) => key)).size === list.length, 'Something is in the list twice.'),
  mustHaves: z.array(mustHaveInputSchema).max(12, 'At most twelve.').default([]),
});
export const useInputSchema = useFieldsSchema;
export const useChangeSchema = versioned(useFieldsSchema);
export type UseInput = Immutable<z.output<typeof useInputSchema>>;
/** What setups are weighed for: what has to be kept, what counts and how much. */
export const useSchema = z.strictObject({ ...storedFields, ...useFieldsSchema.shape });
export type UseDto = Immutable<z.output<typeof useSchema>>;

export const weighUpRequestSchema = z.strictObject({
  use: useFieldsSchema.omit({ name: true, notes: true }),
  revisionIds: z
    .array(z.uuid())
    .min(1, 'Choose a setup.')
    .max(6, 'At most six setups.')
    .refine((ids) => new Set(ids).size === ids.length, 'A setup is in the list twice.'),
});
export type WeighUpRequest = Immutable<z.output<typeof weighUpRequestSchema>>;

export const standingSchema = z.strictObject({
  value: z.number(),
  standardUncertainty: z.number().min(0),
  sharedUncertainty: z.number().min(0).optional(),
  /** What it has in common with other setups, by source: each source moves all that name it together. */
  sources: z.record(z.string().max(120), z.number()).optional(),
  degreesOfFreedom: z.number().positive().optional(),
  n: z.number().positive().optional(),
});
const share = z.number().min(0).max(1);
/** What setups are worth for a use, as the core works it out. */
export const weighedSchema = z.strictObject({
  setups: z.array(
    z.strictObject({
      name: z.string(),
      isBest: share,
      meetsAll: share,
      breaks: z.array(z.strictObject({ key: z.string(), label: z.string(), share })),
      worth: z.strictObject({ mean: z.number(), low: z.number(), high: z.number() }),
      parts: z.record(z.string(), z.number()),
    }),
  ),
  leftOut: z.array(z.strictObject({ name: z.string(), missing: z.array(z.string()) })),
  noneMeets: share,
  ranges: z.array(
    z.strictObject({
      key: z.string(),
      label: z.string(),
      weight: z.number(),
      low: z.number(),
      lowBy: z.string().nullable(),
      /** Null: however high. */
      high: z.number().nullable(),
      highBy: z.string().nullable(),
    }),
  ),
  dominated: z.array(z.strictObject({ name: z.string(), by: z.string() })),
  measuring: z.array(z.strictObject({ name: z.string(), key: z.string(), gain: z.number(), turns: share })),
  words: z.string(),
});
export type Weighed = Immutable<z.output<typeof weighedSchema>>;

const weighedCriterionSchema = z.strictObject({
  key: criterionKeySchema,
  label: z.string(),
  unit: z.string(),
  better: z.enum(['less', 'more']),
  weight: z.number(),
  worth: worthSchema,
  isUsualWorth: z.boolean(),
  /** What the standings rest on: test, course, how ridden, runs; empty where they are no figures. */
  basis: z.string(),
});
export const weighUpSchema = z.strictObject({
  setups: z.array(
    z.strictObject({
      letter: letterSchema,
      revisionId: z.uuid(),
      setupId: z.uuid(),
      name: z.string(),
      standings: z.record(z.string(), standingSchema),
    }),
  ),
  criteria: z.array(weighedCriterionSchema),
  /** Keys of must-haves on a course of their own are `key@course`. */
  mustHaves: z.array(
    z.strictObject({
      key: z.string(),
      label: z.string(),
      unit: z.string(),
      atLeast: z.number().nullable(),
      atMost: z.number().nullable(),
    }),
  ),
  weighed: weighedSchema,
  /** Currency of all money in it. */
  currency: z.string(),
});
export type WeighUp = Immutable<z.output<typeof weighUpSchema>>;

/** The same on numbers of one's own, nothing stored. */
export const quickWeighUpSchema = z.strictObject({
  criteria: z
    .array(
      z.strictObject({
        key: z.string().trim().min(1).max(80),
        label: z.string().trim().min(1).max(80).optional(),
        weight: z.number().min(0).max(1e6),
        worth: worthSchema,
      }),
    )
    .max(20),
  mustHaves: z
    .array(
      z.strictObject({
        key: z.string().trim().min(1).max(80),
        label: z.string().trim().min(1).max(80).optional(),
        atLeast: z.number().optional(),
        atMost: z.number().optional(),
      }),
    )
    .max(12)
    .default([]),
  candidates: z
    .array(z.strictObject({ name: nameSchema, standings: z.record(z.string(), standingSchema) }))
    .min(1)
    .max(12)
    .refine((list) => new Set(list.map(({ name }) => name)).size === list.length, 'Two have the same name.'),
  seed: z.int().min(0).default(20_261),
});
