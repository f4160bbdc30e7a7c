import { z } from 'zod';
import { withFormerNames, type Immutable } from './common.js';
import { comparisonSchema, designKindSchema, namedFTestSchema } from './comparison.js';
import {
  cleaningReportSchema,
  channelNameSchema,
  figureSchema,
  methodSchema,
  chartSchema,
  spanSchema,
  stripSchema,
  unitSchema,
  warningSchema,
} from './figures.js';
import { mappingSchema, testKindSchema } from './imports.js';

const finite = z.number();
/** All of it optional: what is left out is unknown, and figures that need it say so. */
export const quickLookContextSchema = withFormerNames(
  { windMs: 'windMps' },
  z
    .strictObject({
      airTemperatureC: finite.min(-60).max(60),
      airDensity: finite.positive().max(2),
      totalMassKg: finite.positive().max(1000),
      cdaM2: finite.positive().max(5),
      crr: finite.positive().max(0.2),
      rotatingMassFactor: finite.min(1).max(2),
      /** Head wind in direction +1. */
      windMps: finite.min(-60).max(60),
      directions: z.array(z.union([z.literal(1), z.literal(-1)])).max(1000),
      gates: z.strictObject({ startDistanceM: finite.min(0), finishDistanceM: finite.positive() }),
      ambientC: finite.min(-60).max(60),
      temperatureLimitC: finite.min(0).max(300),
      capacityAh: finite.positive().max(1000),
      nominalVoltageV: finite.positive().max(200),
      usableShare: finite.positive().max(1),
      assistLimitKmh: finite.positive().max(120),
      /** Seconds by which the cadence sensor shows things late, or such seconds by channel. */
      sensorDelayS: z.union([finite.min(0).max(5), z.partialRecord(channelNameSchema, finite.min(0).max(5))]),
      mapping: mappingSchema,
    })
    .partial(),
);
export type QuickLookContext = z.output<typeof quickLookContextSchema>;

export const quickLookLogFieldsSchema = z.strictObject({
  test: testKindSchema.default('range'),
  context: quickLookContextSchema.default({}),
});
export const quickLookLogSchema = z.strictObject({
  test: testKindSchema,
  /** By the log's own clock; null where it has none. */
  startedAt: z.iso.datetime().nullable(),
  method: methodSchema,
  channels: z.array(z.strictObject({ name: channelNameSchema, label: z.string(), unit: unitSchema, samples: z.int() })),
  cleaning: cleaningReportSchema,
  figures: z.array(figureSchema),
  warnings: z.array(warningSchema),
  /** Passes of a top-speed test, or coasts of a coast-down (without a steady speed). */
  passes: z.array(
    z.strictObject({
      direction: z.union([z.literal(1), z.literal(-1)]),
      startS: z.number(),
      endS: z.number(),
      /** km/h. */
      steadySpeed: z.number().nullable(),
    }),
  ),
  /** Starts of an assist-response test, times in s. */
  events: z.array(
    z.strictObject({
      startS: z.number(),
      endS: z.number(),
      latency: z.number().nullable(),
      riseTime: z.number().nullable(),
      overrun: z.number().nullable(),
      brakeCutoff: z.number().nullable(),
      time0to20: z.number().nullable(),
      endsBy: z.enum(['pedalling stops', 'brake', 'end of the log']),
    }),
  ),
  /** Steady speed in km/h, consumption in Wh/km, power in W; their intervals stand among the figures. */
  levels: z.array(
    z.strictObject({
      level: z.number(),
      steadySpeed: z.number(),
      consumption: z.number().nullable(),
      meanPower: z.number().nullable(),
      sameAs: z.array(z.number()),
      startS: z.number(),
      endS: z.number(),
    }),
  ),
  /** The same spans in one list, as the page draws them. */
  spans: z.array(spanSchema),
  charts: z.array(chartSchema),
  strip: stripSchema,
});
export type QuickLookLog = Immutable<z.output<typeof quickLookLogSchema>>;

const columnName = z.string().trim().min(1).max(200);
export const quickLookTableFieldsSchema = withFormerNames(
  { sdm: 'smallestDifference' },
  z.strictObject({
    setup: columnName,
    value: columnName,
    block: columnName.optional(),
    covariate: columnName.optional(),
    group: columnName.optional(),
    /** In the unit of the values, or with a per cent sign. */
    smallestDifference: z
      .string()
      .trim()
      .regex(/^\d+([.,]\d+)?\s*%?$/, 'Give a number, or a number with %.')
      .default('5 %'),
    better: z.enum(['less', 'more']).default('less'),
    /** Taken instead of the analysis that the runs call for; both answers are given. */
    design: designKindSchema.exclude(['confounded']).optional(),
    seed: z.coerce
      .number()
      .int()
      .min(0)
      .max(2 ** 31 - 1)
      .default(1),
  }),
);
export type QuickLookTableFields = z.output<typeof quickLookTableFieldsSchema>;

const adjusted = {
  treatmentTest: z.strictObject({
    f: z.number(),
    numeratorDf: z.number(),
    denominatorDf: z.number(),
    pValue: z.number(),
  }),
  residualVariance: z.number(),
  degreesOfFreedom: z.number(),
  adjustedMeans: z.array(
    z.strictObject({
      setup: z.string(),
      mean: z.number(),
      standardError: z.number(),
      lower: z.number(),
      upper: z.number(),
    }),
  ),
  contrasts: z.array(
    z.strictObject({
      a: z.string(),
      b: z.string(),
      difference: z.number(),
      standardError: z.number(),
      df: z.number(),
      t: z.number(),
      p: z.number(),
      holmP: z.number(),
      lower: z.number(),
      upper: z.number(),
    }),
  ),
};
export const quickLookTableSchema = z.strictObject({
  comparison: comparisonSchema,
  verdict: z.string(),
  points: z.array(z.strictObject({ setup: z.string(), value: z.number(), row: z.int() })),
  skippedRows: z.array(z.strictObject({ row: z.int(), reason: z.string() })),
  designed: z.strictObject({
    blocked: z.strictObject({ ...adjusted, blockTest: namedFTestSchema.optional() }).optional(),
    mixed: z
      .strictObject({
        groupSd: z.number(),
        residualSd: z.number(),
        remlLogLikelihood: z.number(),
        adjustedMeans: adjusted.adjustedMeans,
        contrasts: adjusted.contrasts,
      })
      .optional(),
    paired: z.looseObject({ meanDifference: z.number(), lower: z.number(), upper: z.number() }).optional(),
    ancova: z
      .strictObject({
        ...adjusted,
        slope: z.number(),
        slopeStandardError: z.number(),
        slopePValue: z.number(),
        slopesDiffer: namedFTestSchema.optional(),
        rSquared: z.number(),
        residualSd: z.number(),
        covariateMean: z.number(),
      })
      .optional(),
    notes: z.array(z.string()),
  }),
});
export type QuickLookTable = Immutable<z.output<typeof quickLookTableSchema>>;
export const tableColumnsSchema = z.strictObject({ columns: z.array(z.string()), rows: z.int() });
