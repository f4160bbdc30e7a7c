import { z } from 'zod';
import { DECIDING_FIGURE_KEYS, type DecidingFigureKey } from '@ebrix/core/compare';
import { notesSchema, storedFields, type Immutable } from './common.js';
import { pairSchema, comparisonSchema, smallestDifferenceSchema, verdictKindSchema } from './comparison.js';
import { unitSchema } from './figures.js';
import { runSummarySchema } from './runs.js';

export const LETTERS = ['A', 'B', 'C', 'D', 'E', 'F'] as const;
export const letterSchema = z.enum(LETTERS);
export type Letter = z.output<typeof letterSchema>;

export const decidingFigureSchema = z.enum(DECIDING_FIGURE_KEYS as [DecidingFigureKey, ...DecidingFigureKey[]]);
export type DecidingFigure = z.output<typeof decidingFigureSchema>;

const shortList = z.array(z.string().trim().min(1).max(80)).max(20, 'At most twenty.').default([]);
export const trialInputSchema = z.strictObject({
  question: z.string().trim().min(5, 'Write the question as a sentence.').max(160),
  decidingFigure: decidingFigureSchema,
  smallestDifference: smallestDifferenceSchema,
  courseId: z.uuid().nullable().default(null),
  revisionIds: z
    .array(z.uuid())
    .max(6, 'At most six setups.')
    .refine((ids) => new Set(ids).size === ids.length, 'A setup is in the list twice.'),
  notes: notesSchema,
  furtherFigures: z.array(decidingFigureSchema).max(8).default([]),
  /** What is kept the same for all setups, and what is written down with every run. */
  heldEqual: shortList,
  recorded: shortList,
});
export type TrialInput = z.output<typeof trialInputSchema>;

export const trialSetupSchema = z.strictObject({
  letter: letterSchema,
  revisionId: z.uuid(),
  setupId: z.uuid(),
  name: z.string(),
  revisionNumber: z.int(),
  countedRuns: z.int(),
  excludedRuns: z.int(),
  /** Gates neither passed nor waived: it is not to be ridden yet. */
  openClearance: z.int(),
});
export const trialSchema = z.strictObject({
  ...storedFields,
  question: z.string(),
  decidingFigure: decidingFigureSchema,
  smallestDifference: smallestDifferenceSchema,
  course: z.strictObject({ id: z.uuid(), name: z.string() }).nullable(),
  setups: z.array(trialSetupSchema),
  notes: z.string(),
  furtherFigures: z.array(decidingFigureSchema),
  heldEqual: z.array(z.string()),
  recorded: z.array(z.string()),
});
export type Trial = z.output<typeof trialSchema>;

/** One run behind a verdict. */
export const trialPointSchema = z.strictObject({
  runId: z.uuid(),
  letter: letterSchema,
  value: z.number(),
  standardUncertainty: z.number(),
  isExcluded: z.boolean(),
  outing: z.string(),
});
/** How far a setup goes, in km; a reason instead where its runs cannot tell. */
export const setupRangeSchema = z.strictObject({
  letter: letterSchema,
  nextRide: z.strictObject({ median: z.number(), lower: z.number(), upper: z.number(), runs: z.int() }).nullable(),
  reason: z.string().nullable(),
  riddenToEmpty: z
    .strictObject({ median: z.number(), lower: z.number(), upper: z.number(), rides: z.int(), ridesToEmpty: z.int() })
    .nullable(),
});
export const verdictSchema = z.strictObject({
  figure: z.strictObject({
    key: decidingFigureSchema,
    label: z.string(),
    unit: unitSchema,
    better: z.enum(['less', 'more']),
  }),
  points: z.array(trialPointSchema),
  /** Absent with a reason when the runs do not carry a comparison yet. */
  comparison: comparisonSchema.nullable(),
  reason: z.string().nullable(),
  headline: z.string(),
  /** With the excluded runs brought back; null when none is excluded. */
  withExcluded: z
    .strictObject({ pairs: z.array(pairSchema), sentences: z.array(z.string()), isSame: z.boolean() })
    .nullable(),
  /** Runs that do not have the deciding figure, and so do not count. */
  runsWithoutFigure: z.int(),
  ranges: z.array(setupRangeSchema),
});
export type Verdict = Immutable<z.output<typeof verdictSchema>>;
export const trialListItemSchema = z.strictObject({
  ...trialSchema.shape,
  /** In metric units, for scripts; a page says `leading` in the person's own. */
  headline: z.string(),
  /** The pair that the headline is about; null while nothing can be compared. */
  leading: pairSchema.nullable(),
  verdictKinds: z.array(verdictKindSchema),
});
export type TrialListItem = Immutable<z.output<typeof trialListItemSchema>>;
export const trialRunsSchema = z.array(z.strictObject({ letter: letterSchema, run: runSummarySchema }));
