import { z } from 'zod';
import type { Immutable } from './common.js';
import { CHANNEL_NAMES, type ChannelName } from '@ebrix/core/logs';
import { SPAN_KINDS } from '@ebrix/core/analysis';
import { UNITS, type UnitName } from '@ebrix/core/units';

export const unitSchema = z.enum(Object.keys(UNITS) as [UnitName, ...UnitName[]]);
export const channelNameSchema = z.enum(CHANNEL_NAMES as [ChannelName, ...ChannelName[]]);
/** Words and quantities in order; a page writes the quantities in the person's units. */
export const sentenceSchema = z.array(
  z.union([
    z.string(),
    z.strictObject({ value: z.number(), unit: unitSchema, digits: z.int(), isBare: z.literal(true).optional() }),
  ]),
);
/** `message` in stored units; `said`, where it has quantities, is the same with them. */
export const warningSchema = z.strictObject({
  code: z.string(),
  message: z.string(),
  said: sentenceSchema.optional(),
});

export const derivationSchema = z.strictObject({
  formula: z.string(),
  substituted: z.string(),
  said: sentenceSchema.optional(),
  inputs: z.array(z.string()),
  contributions: z.array(
    z.strictObject({
      source: z.string(),
      standardUncertainty: z.number(),
      degreesOfFreedom: z.number().optional(),
      isSystematic: z.boolean().optional(),
      isRectangular: z.boolean().optional(),
      effect: z.number().optional(),
      share: z.number(),
    }),
  ),
  fromS: z.number().optional(),
  toS: z.number().optional(),
});
export const figureSchema = z.strictObject({
  key: z.string(),
  label: z.string(),
  value: z.number(),
  unit: unitSchema,
  standardUncertainty: z.number(),
  interval95: z.tuple([z.number(), z.number()]),
  n: z.int(),
  derivation: derivationSchema,
  warnings: z.array(warningSchema),
});
export const methodSchema = z.strictObject({ name: z.string(), version: z.string() });
export type FigureDto = Immutable<z.output<typeof figureSchema>>;

const gapSchema = z.strictObject({ startS: z.number(), endS: z.number() });
export const cleaningReportSchema = z.strictObject({
  samplesRead: z.int(),
  samplesKept: z.int(),
  droppedTimes: z.int(),
  /** Absent in logs cleaned before it was looked for. */
  clockSteps: z.array(z.strictObject({ atS: z.number(), backS: z.number() })).optional(),
  isHeld: z.boolean().optional(),
  isJoined: z.boolean().optional(),
  felt: z.strictObject({ samples: z.int(), stepS: z.number() }).optional(),
  isTurned: z.boolean().optional(),
  isSignUnclear: z.boolean().optional(),
  creepSamples: z.int().optional(),
  unreadable: z.array(
    z.strictObject({ channel: z.union([channelNameSchema, z.literal('time')]), count: z.int(), firstLine: z.int() }),
  ),
  raggedRecords: z.int(),
  ignoredColumns: z.array(z.string()),
  medianStepS: z.number(),
  gapLimitS: z.number(),
  gaps: z.array(gapSchema),
  spikes: z.array(
    z.strictObject({
      channel: channelNameSchema,
      count: z.int(),
      timesS: z.array(z.number()),
      values: z.array(z.number()),
    }),
  ),
  positionJumps: z.int(),
  stuck: z.array(z.strictObject({ ...gapSchema.shape, channel: channelNameSchema })),
  speedComparison: z
    .strictObject({ ratio: z.number(), lower: z.number(), upper: z.number(), isSuspect: z.boolean() })
    .optional(),
});
export type CleaningReportDto = Immutable<z.output<typeof cleaningReportSchema>>;

const spanFields = {
  kind: z.enum(SPAN_KINDS),
  fromS: z.number().min(0),
  toS: z.number().min(0),
  direction: z.union([z.literal(1), z.literal(-1)]).optional(),
  level: z.number().optional(),
};
/** A span of the log that figures rest on, s of the log. */
export const spanSchema = z.strictObject({ ...spanFields, label: z.string() });
export type SpanDto = Immutable<z.output<typeof spanSchema>>;
export const givenSpanSchema = z
  .strictObject(spanFields)
  .refine(({ fromS, toS }) => toS > fromS, 'A part has to end after it begins.');
export type GivenSpanDto = z.output<typeof givenSpanSchema>;

const axisSchema = z.strictObject({ label: z.string(), unit: unitSchema });
export const chartSchema = z.strictObject({
  key: z.string(),
  title: z.string(),
  x: z.strictObject({ ...axisSchema.shape, categories: z.array(z.string()).optional() }),
  y: axisSchema,
  series: z.array(
    z.strictObject({
      label: z.string(),
      drawAs: z.enum(['line', 'points']),
      x: z.array(z.number()),
      y: z.array(z.number()),
      isFit: z.boolean().optional(),
      plusMinus: z.array(z.number()).optional(),
    }),
  ),
  lines: z.array(z.strictObject({ axis: z.enum(['x', 'y']), at: z.number(), label: z.string() })),
});
export type ChartDto = Immutable<z.output<typeof chartSchema>>;

/** A span of channels to draw: least and greatest of each bin, in field units. */
export const stripSchema = z.strictObject({
  fromS: z.number(),
  toS: z.number(),
  totalS: z.number(),
  channels: z.array(
    z.strictObject({
      name: channelNameSchema,
      label: z.string(),
      unit: unitSchema,
      timesS: z.array(z.number()),
      low: z.array(z.number().nullable()),
      high: z.array(z.number().nullable()),
    }),
  ),
});
export type Strip = Immutable<z.output<typeof stripSchema>>;
