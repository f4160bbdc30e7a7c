import { z } from 'zod';
import type { Immutable } from './common.js';
import {
  cleaningReportSchema,
  channelNameSchema,
  figureSchema,
  givenSpanSchema,
  methodSchema,
  chartSchema,
  spanSchema,
  unitSchema,
  warningSchema,
} from './figures.js';
import {
  gaugeSchema,
  manualReadingsSchema,
  partOfOutingSchema,
  runAssignmentSchema,
  logSpanSchema,
  testKindSchema,
} from './imports.js';
import { effortSchema, ridingSchema } from './riding.js';

const reference = z.strictObject({ id: z.uuid(), name: z.string() });
const shortFigure = z.strictObject({ value: z.number(), standardUncertainty: z.number(), unit: unitSchema });

/** Figures shown in lists; all of them stand on the run's own page. */
export const LISTED_FIGURES = [
  'netConsumption',
  'distance',
  'meanMovingSpeed',
  'rangeToCutoff',
  'rangeWithReserve',
] as const;
export const listedFigureSchema = z.enum(LISTED_FIGURES);
export type ListedFigure = z.output<typeof listedFigureSchema>;

export const runSummarySchema = z.strictObject({
  id: z.uuid(),
  version: z.int(),
  setup: z.strictObject({ id: z.uuid(), name: z.string(), revisionId: z.uuid(), revisionNumber: z.int() }),
  course: reference,
  outing: z.strictObject({ id: z.uuid(), title: z.string(), date: z.iso.date() }),
  testKind: testKindSchema,
  riding: ridingSchema,
  /** Ridden by the ride model, not by a rider. */
  isSimulated: z.boolean(),
  fileName: z.string(),
  startedAt: z.iso.datetime().nullable(),
  durationS: z.number(),
  exclusion: z.strictObject({ reason: z.string(), at: z.iso.datetime() }).nullable(),
  figures: z.partialRecord(listedFigureSchema, shortFigure),
  /** The first figure of this kind of test. */
  headline: z.strictObject({ key: z.string(), label: z.string(), ...shortFigure.shape }).nullable(),
  warningCount: z.int(),
  /** True wheel circumference ÷ the one set; null: as counted. */
  wheelFactor: z.number().nullable(),
  /** Out of all lists and verdicts, to be brought back. */
  deletedAt: z.iso.datetime().nullable(),
});
export type RunSummary = z.output<typeof runSummarySchema>;

export const runSortSchema = z.enum(['date', 'setup', 'course', 'file', ...LISTED_FIGURES]);
/** A place in a list, as the list's own answer named it. */
const placeSchema = z.string().max(4000);
export const runQuerySchema = z.strictObject({
  setup: z.uuid().optional(),
  revision: z.uuid().optional(),
  course: z.uuid().optional(),
  outing: z.uuid().optional(),
  state: z.enum(['counted', 'excluded', 'simulated', 'deleted']).optional(),
  way: effortSchema.or(z.literal('unsaid')).optional(),
  kind: testKindSchema.optional(),
  text: z.string().max(120).optional(),
  sort: runSortSchema.default('date'),
  order: z.enum(['up', 'down']).default('down'),
  /** The page behind or before a place; the first one without. */
  after: placeSchema.optional(),
  before: placeSchema.optional(),
  pageSize: z.coerce.number().int().min(1).max(200).default(50),
});
export type RunQuery = z.output<typeof runQuerySchema>;
export const runPageSchema = z.strictObject({
  items: z.array(runSummarySchema),
  total: z.int(),
  /** To be asked for as `after` and `before`; null at the ends of the list. */
  next: placeSchema.nullable(),
  previous: placeSchema.nullable(),
});
export type RunListPage = z.output<typeof runPageSchema>;

export const runDetailSchema = z.strictObject({
  ...runSummarySchema.shape,
  rider: reference.nullable(),
  logger: reference.nullable(),
  totalMassKg: z.number().nullable(),
  emptied: z.boolean(),
  isPartWay: z.boolean(),
  gauge: gaugeSchema.nullable(),
  ruleOfThumbWhPerKm: z.number().nullable(),
  tyrePressureBar: z.number().nullable(),
  perceivedEffort: z.number().nullable(),
  notes: z.string(),
  direction: z.union([z.literal(1), z.literal(-1)]),
  slotId: z.uuid().nullable(),
  manualReadings: manualReadingsSchema.nullable(),
  logSpan: logSpanSchema.nullable(),
  /** Parts of the log used, and what there is to see of the test. */
  spans: z.array(spanSchema),
  charts: z.array(chartSchema),
  /** Spans that a tester set, newest first. */
  corrections: z.array(
    z.strictObject({ what: z.string(), at: z.iso.datetime(), undoneAt: z.iso.datetime().nullable() }),
  ),
  /** Its figures are being worked out again: those shown are the ones before. */
  isRecalculating: z.boolean(),
  method: methodSchema,
  allFigures: z.array(figureSchema),
  warnings: z.array(warningSchema),
  cleaning: cleaningReportSchema,
  channels: z.array(z.strictObject({ name: channelNameSchema, label: z.string(), unit: unitSchema })),
  trials: z.array(z.strictObject({ id: z.uuid(), question: z.string() })),
  sha256: z.string(),
  byteCount: z.int(),
  exclusionHistory: z.array(
    z.strictObject({ reason: z.string(), at: z.iso.datetime(), undoneAt: z.iso.datetime().nullable() }),
  ),
  figureHistory: z.array(
    z.strictObject({
      key: z.string(),
      value: z.number(),
      unit: unitSchema,
      standardUncertainty: z.number(),
      method: methodSchema,
      replacedAt: z.iso.datetime(),
    }),
  ),
});
export type RunDetail = Immutable<z.output<typeof runDetailSchema>>;

export const exclusionInputSchema = z.strictObject({
  reason: z.string().trim().min(2, 'Write the reason, if only a word.').max(500),
  version: z.int(),
});
/** Runs to be deleted, or brought back. */
export const runIdsSchema = z.strictObject({ runIds: z.array(z.uuid()).min(1).max(500) });
/** One run that turns out to be several: what becomes of it. */
export const splitRunSchema = z.strictObject({
  version: z.int(),
  parts: z.array(partOfOutingSchema).min(1, 'Choose at least one part.').max(50),
});
export type SplitRun = Immutable<z.output<typeof splitRunSchema>>;
export const splitRunQuerySchema = z.strictObject({ course: z.uuid().optional() });
export const runChangeSchema = z.strictObject({ version: z.int(), assignment: runAssignmentSchema });
/** A figure of one kind of test over all counted runs of a setup on one course. */
export const repeatedFigureSchema = z.strictObject({
  testKind: testKindSchema,
  course: reference,
  /** Runs of one way of riding; null: not written down. */
  way: effortSchema.nullable(),
  key: z.string(),
  label: z.string(),
  unit: unitSchema,
  revisionNumbers: z.array(z.int()),
  runs: z.array(
    z.strictObject({
      id: z.uuid(),
      value: z.number(),
      standardUncertainty: z.number(),
      interval95: z.tuple([z.number(), z.number()]),
      outing: z.uuid(),
      date: z.iso.date(),
      airTemperatureC: z.number().nullable(),
    }),
  ),
});
export type RepeatedFigure = z.output<typeof repeatedFigureSchema>;

const learnedSchema = z.strictObject({
  mean: z.number(),
  /** Of the next value. */
  standardDeviation: z.number(),
  degreesOfFreedom: z.number(),
  n: z.int(),
});
/** What a setup's gauge and charger were seen to mean beside a logger. */
export const learnedReadingsSchema = z.strictObject({
  /** Wh used since full, by share of the bars that are lit, or of those left when one has just gone out. */
  gauge: z.array(z.strictObject({ shown: z.number(), isEdge: z.boolean(), ...learnedSchema.shape })),
  /** Bars of the gauge when full; null while no run says. */
  bars: z.number().nullable(),
  chargeEfficiency: learnedSchema.nullable(),
});
export type LearnedReadings = z.output<typeof learnedReadingsSchema>;

export const correctionInputSchema = z.strictObject({
  version: z.int(),
  /** All spans of the run as they are to be; those of a kind that is not among them are found by the program. */
  spans: z.array(givenSpanSchema).min(1).max(200),
  what: z.string().trim().min(3).max(200),
});
export type CorrectionInput = z.output<typeof correctionInputSchema>;

/** Working out figures again, after a method has changed or because a tester asks for it. */
export const reanalysisSchema = z.strictObject({
  id: z.uuid(),
  state: z.enum(['working', 'done', 'cancelled']),
  total: z.int(),
  done: z.int(),
  failed: z.int(),
  /** Runs whose figures came out otherwise; the old ones are kept in their history. */
  changed: z.int(),
  startedAt: z.iso.datetime(),
  finishedAt: z.iso.datetime().nullable(),
});
export type Reanalysis = z.output<typeof reanalysisSchema>;
export const reanalysisOverviewSchema = z.strictObject({
  /** Runs whose figures were worked out by an earlier method. */
  outdated: z.int(),
  latest: reanalysisSchema.nullable(),
});
export const reanalysisInputSchema = z.strictObject({ scope: z.enum(['outdated', 'all']) });

export const stripQuerySchema = z.strictObject({
  fromS: z.coerce.number().min(0).optional(),
  toS: z.coerce.number().positive().optional(),
  bins: z.coerce.number().int().min(10).max(1000).default(800),
});
