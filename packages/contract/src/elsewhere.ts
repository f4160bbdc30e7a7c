import { z } from 'zod';
import { signatureSchema, type Immutable } from './common.js';
import { letterSchema } from './trials.js';

const positive = z.number('Write a number.').positive('Must be above 0.').max(1000, 'At most 1000.');
const ratioFields = {
  /** Of a to b, with the interval that holds 95 times in 100. */
  ratio: positive,
  lower: positive,
  upper: positive,
  runs: z.int().min(1).max(100_000).nullable().default(null),
  note: z.string().trim().max(400).default(''),
};
export const elsewhereInputSchema = z
  .strictObject({ tester: signatureSchema, a: letterSchema, b: letterSchema, ...ratioFields })
  .refine(({ a, b }) => a !== b, 'Choose two setups.')
  .refine(
    ({ ratio, lower, upper }) => lower < upper && lower <= ratio && ratio <= upper,
    'The ratio has to lie within its interval.',
  );
export type ElsewhereInput = Immutable<z.output<typeof elsewhereInputSchema>>;
const interval = z.strictObject({ lower: z.number(), upper: z.number() });
export const elsewhereSchema = z.array(
  z.strictObject({
    a: letterSchema,
    b: letterSchema,
    aName: z.string(),
    bName: z.string(),
    /** What the trial's own runs say; null where they cannot tell a ratio. */
    own: z.strictObject({ ratio: z.number(), lower: z.number(), upper: z.number() }).nullable(),
    studies: z.array(z.strictObject({ id: z.uuid(), tester: z.string(), ...ratioFields })),
    /** All together, own answer included; null for fewer than two. */
    pooled: z
      .strictObject({
        ratio: z.number(),
        interval95: interval,
        nextTester95: interval.nullable(),
        between: z.number(),
        iSquared: z.number(),
        weights: z.array(z.number()),
        words: z.string(),
      })
      .nullable(),
  }),
);
export type Elsewhere = Immutable<z.output<typeof elsewhereSchema>>;
/** One trial of another tester's data package. */
export const foundElsewhereSchema = z.strictObject({
  question: z.string(),
  figure: z.string(),
  a: z.string(),
  b: z.string(),
  ratio: z.number(),
  lower: z.number(),
  upper: z.number(),
  runs: z.int().nullable(),
});
export type FoundElsewhere = Immutable<z.output<typeof foundElsewhereSchema>>;

export const quickMetaAnalysisSchema = z.strictObject({
  studies: z
    .array(
      z.strictObject({
        name: z.string().trim().max(120).default(''),
        estimate: z.number(),
        standardError: z.number().positive('Must be above 0.'),
      }),
    )
    .min(2, 'It takes two studies or more.')
    .max(200),
});
export const metaAnalysisSchema = z.strictObject({
  estimate: z.number(),
  standardError: z.number(),
  degreesOfFreedom: z.int(),
  pValue: z.number(),
  interval95: interval,
  cautiousInterval95: interval,
  prediction95: interval,
  cautiousPrediction95: interval.optional(),
  between: z.number(),
  q: z.strictObject({ value: z.number(), degreesOfFreedom: z.int(), pValue: z.number() }),
  iSquared: z.number(),
  weights: z.array(z.number()),
});
