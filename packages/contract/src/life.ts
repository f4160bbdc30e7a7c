import { z } from 'zod';
import { FOLLOW_UP_KEYS, REPLACED_BECAUSE, type FollowUpKey, type ReplacedBecause } from '@ebrix/core/life';
import { nameSchema, type Immutable } from './common.js';
import { faultEffectSchema, groupBySchema, keysOf, kmSchema, lifePartSchema, subjectSchema } from './logbook.js';

const interval = z.tuple([z.number(), z.number()]);
const openInterval = z.tuple([z.number(), z.number().nullable()]);
export const faultRateSchema = z.strictObject({
  label: z.string(),
  conversions: z.int(),
  km: z.number(),
  faults: z.int(),
  rate: z.number(),
  interval95: interval,
  upperBound: z.number(),
  isUneven: z.boolean(),
  words: z.string(),
});
const trendSchema = z.strictObject({
  verdict: z.enum(['early', 'none', 'too-few', 'wear-out']),
  shape: z.number().nullable(),
  interval95: interval.nullable(),
  words: z.string(),
});
const dueSchema = z.strictObject({
  item: z.strictObject({ id: z.string(), part: lifePartSchema, what: z.string() }),
  state: z.enum(['due', 'fine', 'overdue', 'soon']),
  last: z.strictObject({ day: z.string(), km: z.number() }).nullable(),
  kmLeft: z.number().nullable(),
  daysLeft: z.number().nullable(),
  day: z.string().nullable(),
});
const followUpDueSchema = z.strictObject({
  stage: z.strictObject({ id: z.string(), label: z.string() }),
  state: z.enum(['answered', 'due', 'later']),
  day: z.string().nullable(),
});
export const lifeSchema = z.strictObject({
  subject: subjectSchema,
  name: z.string(),
  fittedOn: z.string().nullable(),
  takenOff: z.string().nullable(),
  /** Since fitting. */
  km: z.number(),
  /** On the bike's own count, new displays added on. */
  odometerKm: z.number().nullable(),
  kmPerWeek: z.number().nullable(),
  points: z.array(z.strictObject({ day: z.string(), km: z.number() })),
  problems: z.array(z.strictObject({ day: z.string(), code: z.string(), message: z.string() })),
  faults: z.array(
    z.strictObject({
      id: z.string(),
      day: z.string(),
      km: z.number(),
      part: lifePartSchema,
      effect: faultEffectSchema,
    }),
  ),
  rate: faultRateSchema.nullable(),
  wear: z.array(
    z.strictObject({
      part: lifePartSchema,
      value: z.number(),
      limit: z.number(),
      unit: z.enum(['%', 'mm']),
      kmLeft: z.number().nullable(),
      interval95: openInterval,
      per1000Km: z.number().nullable(),
      readings: z.int(),
    }),
  ),
  due: z.array(dueSchema),
  followUps: z.array(followUpDueSchema),
  answers: z.array(
    z.strictObject({
      stage: z.string(),
      day: z.string(),
      answers: z.record(z.string(), z.number()),
      words: z.string(),
      changed: z.string(),
      by: z.string(),
    }),
  ),
  socket: z
    .strictObject({
      kWhPer100Km: z.number(),
      interval95: interval.nullable(),
      km: z.number(),
      charges: z.int(),
      oddSpans: z.int(),
    })
    .nullable(),
  cycles: z.number().nullable(),
  capacity: z.array(
    z.strictObject({
      day: z.string(),
      share: z.number(),
      kind: z.enum(['ride', 'test']),
      cycles: z.number(),
      airTemperatureC: z.number().nullable(),
    }),
  ),
  ageing: z
    .strictObject({
      readings: z.int(),
      fadePer100: z.number(),
      interval95: interval,
      verdict: z.enum(['fades', 'open']),
      shareNow: z.number(),
      cyclesLeft: z.number().nullable(),
      cyclesInterval95: openInterval,
      words: z.string(),
    })
    .nullable(),
  resistance: z
    .strictObject({
      readings: z.int(),
      growthPer100: z.number(),
      interval95: interval,
      verdict: z.enum(['grows', 'open']),
      words: z.string(),
    })
    .nullable(),
  /** Money that entries of this life name, by currency. */
  costs: z.array(z.strictObject({ currency: z.string(), amount: z.number() })),
});
export type Life = Immutable<z.output<typeof lifeSchema>>;

export const dueListSchema = z.array(
  z.strictObject({
    subject: subjectSchema,
    name: z.string(),
    due: z.array(dueSchema),
    followUps: z.array(followUpDueSchema),
  }),
);
export type DueList = Immutable<z.output<typeof dueListSchema>>;

export const reliabilityQuerySchema = z.strictObject({
  by: groupBySchema.default('kit'),
  part: lifePartSchema.optional(),
});
const comparisonOfRatesSchema = z.strictObject({
  a: z.string(),
  b: z.string(),
  ratio: z.number().nullable(),
  interval95: openInterval,
  pValue: z.number(),
  verdict: z.enum(['fewer', 'more', 'open']),
  words: z.string(),
});
const curvePointSchema = z.strictObject({
  at: z.number(),
  atRisk: z.int(),
  mean: z.number(),
  standardError: z.number(),
  interval,
});
const partLivesSchema = z.strictObject({
  part: lifePartSchema,
  ended: z.int(),
  running: z.int(),
  words: z.string(),
  median: z.number().nullable(),
  points: z.array(
    z.strictObject({ at: z.number(), atRisk: z.int(), failed: z.int(), surviving: z.number(), interval }),
  ),
  weibull: z
    .strictObject({
      shape: z.number(),
      shapeInterval: z.tuple([z.number(), z.number().nullable()]),
      scale: z.number(),
      scaleInterval: z.tuple([z.number(), z.number().nullable()]),
      tenthGone: z.number(),
      tenthGoneInterval: z.tuple([z.number(), z.number().nullable()]),
      failed: z.int(),
    })
    .nullable(),
});
/** Faults over all conversions that were ever fitted, tested or out of sight. */
export const reliabilitySchema = z.strictObject({
  all: faultRateSchema.nullable(),
  groups: z.array(faultRateSchema),
  comparisons: z.array(comparisonOfRatesSchema),
  trend: trendSchema.nullable(),
  parts: z.array(z.strictObject({ ...faultRateSchema.shape, part: lifePartSchema, trend: trendSchema })),
  curves: z.array(z.strictObject({ label: z.string(), points: z.array(curvePointSchema) })),
  lives: z.array(partLivesSchema),
  /** What riders said when asked again, kit by kit; empty in a quick look. */
  said: z.array(
    z.strictObject({
      kit: z.string(),
      stage: z.string(),
      key: z.enum(FOLLOW_UP_KEYS as [FollowUpKey, ...FollowUpKey[]]),
      bikes: z.int(),
      median: z.number(),
      lowest: z.number(),
      highest: z.number(),
    }),
  ),
  conversions: z.array(
    z.strictObject({
      subject: subjectSchema.nullable(),
      name: z.string(),
      groups: z.record(groupBySchema, z.string()),
      km: z.number(),
      /** Somebody writes down what happens to it; else it does not count. */
      isKept: z.boolean(),
      faults: z.int(),
    }),
  ),
});
export type ReliabilityDto = Immutable<z.output<typeof reliabilitySchema>>;

/** The same on numbers of one's own; nothing is stored. */
export const quickReliabilitySchema = z.strictObject({
  by: groupBySchema.default('kit'),
  part: lifePartSchema.optional(),
  conversions: z
    .array(
      z.strictObject({
        name: nameSchema,
        kit: z.string().max(80).default(''),
        motorKind: z.string().max(80).default(''),
        pack: z.string().max(80).default(''),
        use: z.string().max(80).default(''),
        km: z.number().positive('Must be above 0.').max(1e6),
        faults: z
          .array(
            z.strictObject({
              km: kmSchema,
              part: lifePartSchema.default('other'),
              effect: faultEffectSchema.default('nuisance'),
            }),
          )
          .max(2000)
          .default([]),
        replacements: z
          .array(z.strictObject({ km: kmSchema, part: lifePartSchema, why: keysOf<ReplacedBecause>(REPLACED_BECAUSE) }))
          .max(2000)
          .default([]),
      }),
    )
    .min(1, 'At least one conversion.')
    .max(500, 'At most 500 conversions.'),
});
