import { z } from 'zod';
import { DECIDING_FIGURE_KEYS, type DecidingFigureKey } from '@ebrix/core/compare';
import { idSchema, notesSchema, storedFields, versioned, type Immutable } from './common.js';
import {
  comparisonSchema,
  designKindSchema,
  pairSchema,
  smallestDifferenceSchema,
  verdictKindSchema,
} from './comparison.js';
import { unitSchema } from './figures.js';
import { openRiding, ridingSchema } from './riding.js';
import { runSummarySchema } from './runs.js';

export const LETTERS = ['A', 'B', 'C', 'D', 'E', 'F'] as const;
export const letterSchema = z.enum(LETTERS);
export type Letter = z.output<typeof letterSchema>;

export const decidingFigureSchema = z.enum(DECIDING_FIGURE_KEYS as [DecidingFigureKey, ...DecidingFigureKey[]]);
export type DecidingFigure = z.output<typeof decidingFigureSchema>;

const shortList = z.array(z.string().trim().min(1).max(80)).max(20, 'At most twenty.').default([]);
/** What a trial can ask for: its runs have outings, and neither groups nor one condition of their own. */
const trialDesignSchema = designKindSchema.exclude(['confounded', 'covariate', 'grouped']);
const armSchema = z.strictObject({ revisionId: z.uuid(), riding: ridingSchema.default(openRiding) });
/** One side of a trial: a setup, and how it is ridden where that is what is compared. */
export type TrialArmInput = z.output<typeof armSchema>;
export const MEANT_TO_DIFFER = [
  'bike',
  'rider',
  'direction',
  'airTemperature',
  'wind',
  'load',
  'startCharge',
  'meanSpeed',
  'tyrePressure',
] as const;

const trialFieldsSchema = z.strictObject({
  question: z.string().trim().min(5, 'Write the question as a sentence.').max(160),
  decidingFigure: decidingFigureSchema,
  smallestDifference: smallestDifferenceSchema,
  courseId: z.uuid().nullable().default(null),
  arms: z
    .array(armSchema)
    .max(6, 'At most six setups.')
    .refine(
      (arms) => new Set(arms.map((arm) => JSON.stringify(arm))).size === arms.length,
      'A setup is in the list twice, ridden the same way.',
    ),
  notes: notesSchema,
  furtherFigures: z.array(decidingFigureSchema).max(8).default([]),
  /** What is kept the same for all setups, and what is written down with every run. */
  heldEqual: shortList,
  recorded: shortList,
  /** How all runs are ridden: those ridden otherwise stand apart. */
  heldRiding: ridingSchema.default(openRiding),
  /** What goes with the setups on purpose, so that it does not keep them from being compared. */
  meantToDiffer: z.array(z.enum(MEANT_TO_DIFFER)).max(MEANT_TO_DIFFER.length).default([]),
  /** Simulated rides count in this trial. */
  countsSimulated: z.boolean().default(false),
  /** Taken instead of the analysis that the runs call for. */
  design: trialDesignSchema.nullable().default(null),
});
/** What may be left out of a trial takes its default. */
export type TrialFields = z.input<typeof trialFieldsSchema>;
export const trialInputSchema = z.preprocess(armsOfRevisions, trialFieldsSchema);
export const trialChangeSchema = z.preprocess(armsOfRevisions, versioned(trialFieldsSchema));

/** Scripts of the version before name setups alone. */
function armsOfRevisions(value: unknown): unknown {
  if (typeof value !== 'object' || value === null || !('revisionIds' in value) || 'arms' in value) return value;
  const { revisionIds, ...rest } = value;
  return {
    ...rest,
    arms: Array.isArray(revisionIds) ? revisionIds.map((revisionId: unknown) => ({ revisionId })) : revisionIds,
  };
}
export type TrialInput = z.output<typeof trialInputSchema>;

export const trialSetupSchema = z.strictObject({
  letter: letterSchema,
  revisionId: z.uuid(),
  setupId: z.uuid(),
  name: z.string(),
  revisionNumber: z.int(),
  /** How this arm is ridden; open where that is not compared. */
  riding: ridingSchema,
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
  heldRiding: ridingSchema,
  meantToDiffer: z.array(z.enum(MEANT_TO_DIFFER)),
  countsSimulated: z.boolean(),
  design: trialDesignSchema.nullable(),
});
export type Trial = z.output<typeof trialSchema>;

/** One run behind a verdict. */
export const trialPointSchema = z.strictObject({
  runId: z.uuid(),
  letter: letterSchema,
  value: z.number(),
  standardUncertainty: z.number(),
  isExcluded: z.boolean(),
  /** Why it does not count although nobody left it out. */
  apart: z
    .strictObject({ kind: z.enum(['estimated', 'not-said', 'ridden-otherwise', 'simulated']), text: z.string() })
    .nullable(),
  outing: z.string(),
});
const figureWordsSchema = z.strictObject({
  key: decidingFigureSchema,
  label: z.string(),
  unit: unitSchema,
  better: z.enum(['less', 'more']),
});
/** The same runs by another figure, or as if a condition had been the same for all. */
const otherAnswerSchema = z.strictObject({
  label: z.string(),
  design: designKindSchema.nullable(),
  pairs: z.array(pairSchema),
  /** Why there is no answer; null where there is one. */
  reason: z.string().nullable(),
});
export const lookSchema = z.strictObject({
  /** This look, and how many were planned; null where no plan says. */
  number: z.int(),
  of: z.int().nullable(),
  countedRuns: z.int(),
  isLast: z.boolean(),
  /** Share of false alarms that this look spends, of 0.05 in all. */
  level: z.number(),
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
  figure: figureWordsSchema,
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
  /** What the trial has to say first: its runs were not all ridden alike. */
  open: z
    .strictObject({
      field: z.enum(['way', 'level', 'gear', 'payloadKg', 'limitMode', 'laps']),
      found: z.array(z.strictObject({ value: z.string(), runs: z.int() })),
      text: z.string(),
    })
    .nullable(),
  /** What keeps pairs apart that may be meant to differ. */
  confounded: z.array(z.strictObject({ a: z.string(), b: z.string(), key: z.enum(MEANT_TO_DIFFER) })),
  look: lookSchema.nullable(),
  /** As if a condition had been the same for all runs. */
  adjusted: z.array(
    z.strictObject({ ...otherAnswerSchema.shape, key: z.enum(MEANT_TO_DIFFER), slopesDifferP: z.number().nullable() }),
  ),
  /** At reference conditions, for consumption; and by what factor that moved each arm's runs, on average. */
  atReference: z
    .strictObject({
      ...otherAnswerSchema.shape,
      moved: z.array(z.strictObject({ letter: letterSchema, factor: z.number() })),
    })
    .nullable(),
  /** The figures that were asked for beside the deciding one: looks, not decisions. */
  further: z.array(
    z.strictObject({
      ...otherAnswerSchema.shape,
      figure: figureWordsSchema,
      smallestDifference: smallestDifferenceSchema,
    }),
  ),
});
export type Verdict = Immutable<z.output<typeof verdictSchema>>;
export const trialListItemSchema = z.strictObject({
  ...trialSchema.shape,
  /** In metric units, for scripts; a page says `leading` in the person's own. */
  headline: z.string(),
  /** The pair that the headline is about; null while nothing can be compared. */
  leading: pairSchema.nullable(),
  /** Before the last look that was planned. */
  isSoFar: z.boolean(),
  verdictKinds: z.array(verdictKindSchema),
});
export type TrialListItem = Immutable<z.output<typeof trialListItemSchema>>;
/** A piece of the list of trials, newest first and archived ones last; all of it where nothing is said. */
export const trialListQuerySchema = z.strictObject({
  /** So many at the most. */
  limit: z.coerce.number().int().min(1).max(500).optional(),
  /** Those behind this one. */
  after: idSchema.optional(),
  /** In whose question this stands. */
  text: z.string().max(200).optional(),
  /** This one alone. */
  id: idSchema.optional(),
});
export type TrialListQuery = z.output<typeof trialListQuerySchema>;
/** Enough to choose a trial by. */
export const trialNameSchema = z.strictObject({ id: idSchema, question: z.string() });
export type TrialName = z.output<typeof trialNameSchema>;
export const trialRunsSchema = z.array(
  z.strictObject({
    letter: letterSchema,
    /** Why it does not count although nobody left it out; null where it counts. */
    apart: z.string().nullable(),
    run: runSummarySchema,
  }),
);
