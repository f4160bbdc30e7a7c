import { z } from 'zod';
import { EXPERIENCE_KEYS, HIGHEST_STEP, LOWEST_STEP, type ExperienceKey } from '@ebrix/core/experience';
import { daySchema, signatureSchema, type Immutable } from './common.js';

const stepSchema = z.int('Choose a step.').min(LOWEST_STEP).max(HIGHEST_STEP);
const valuesSchema = z.partialRecord(z.enum(EXPERIENCE_KEYS as [ExperienceKey, ...ExperienceKey[]]), stepSchema);
export const ratingInputSchema = z.strictObject({
  revisionId: z.uuid(),
  rider: signatureSchema,
  day: daySchema,
  /** Expected before riding, or felt after. */
  phase: z.enum(['before', 'after']).default('after'),
  /** The rider did not know which setup it was. */
  isBlind: z.boolean().default(false),
  values: valuesSchema.refine((values) => Object.keys(values).length > 0, 'Rate at least one of them.'),
  note: z.string().trim().max(1000).default(''),
});
export type RatingInput = Immutable<z.output<typeof ratingInputSchema>>;
export const ratingSchema = z.strictObject({
  id: z.uuid(),
  ...ratingInputSchema.shape,
  values: valuesSchema,
  setupName: z.string(),
  revisionNumber: z.int(),
  at: z.iso.datetime(),
});
export type RatingDto = Immutable<z.output<typeof ratingSchema>>;
