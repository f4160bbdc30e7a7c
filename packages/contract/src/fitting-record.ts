import { BOX_STATES, PACK_TRIALS, TOOL_SOURCES, WIRE_STATES } from '@ebrix/core/bench';
import { z } from 'zod';
import { daySchema, positiveOrUnknown, zeroOrMoreOrUnknown, type Immutable } from './common.js';

const line = (what: string) => z.string().trim().min(1, what).max(120, 'At most 120 characters.');
const words = z.string().trim().max(400, 'At most 400 characters.').default('');
const dayOrUnknown = daySchema.nullable().default(null);
const difficulty = z.int().min(1).max(5).nullable().default(null);

/** What is noted around a fitting. Everything may be missing: it is filled as the work goes on. */
export const fittingRecordSchema = z.strictObject({
  seller: z.string().trim().max(120).default(''),
  orderedOn: dayOrUnknown,
  arrivedOn: dayOrUnknown,
  warrantyMonths: z.int('Whole months.').min(0).max(240).nullable().default(null),
  box: z
    .array(z.strictObject({ what: line('Say what it is.'), state: z.enum(BOX_STATES), note: words }))
    .max(60)
    .default([]),
  guessedHours: positiveOrUnknown(500),
  guessedDifficulty: difficulty,
  ratedDifficulty: difficulty,
  tools: z
    .array(z.strictObject({ tool: line('Name the tool.'), source: z.enum(TOOL_SOURCES) }))
    .max(60)
    .default([]),
  connectors: z
    .array(
      z.strictObject({
        from: line('Say which wire.'),
        to: z.string().trim().max(120).default(''),
        state: z.enum(WIRE_STATES),
        note: words,
      }),
    )
    .max(60)
    .default([]),
  cooling: z
    .strictObject({
      fluid: z.string().trim().max(120).default(''),
      doseMl: positiveOrUnknown(200),
      coverMm: positiveOrUnknown(30),
      drillStopMm: positiveOrUnknown(40),
      sealedWith: z.string().trim().max(120).default(''),
    })
    .nullable()
    .default(null),
  errors: z
    .array(
      z.strictObject({
        code: line('Write the code.'),
        isAfterVoltageStep: z.boolean().default(false),
        meaning: words,
        cure: words,
      }),
    )
    .max(40)
    .default([]),
  packsTried: z
    .array(
      z.strictObject({
        pack: line('Say which pack.'),
        alone: z.enum(PACK_TRIALS),
        restV: positiveOrUnknown(120),
        loadV: zeroOrMoreOrUnknown(120),
      }),
    )
    .max(8)
    .default([]),
  ranTogether: z.boolean().nullable().default(null),
});
export type FittingRecordInput = Immutable<z.output<typeof fittingRecordSchema>>;
export const fittingRecordPutSchema = z.strictObject({ version: z.int().min(0), record: fittingRecordSchema });
export const storedFittingRecordSchema = z.strictObject({
  /** 0 while nothing is stored. */
  version: z.int().min(0),
  updatedAt: z.iso.datetime().nullable(),
  record: fittingRecordSchema,
});
export type StoredFittingRecord = Immutable<z.output<typeof storedFittingRecordSchema>>;
