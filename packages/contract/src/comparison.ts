import { z } from 'zod';
import type { Immutable } from './common.js';

const interval = { lower: z.number(), upper: z.number() };
export const namedFTestSchema = z.strictObject({ f: z.number(), df1: z.number(), df2: z.number(), p: z.number() });
const fTest = namedFTestSchema;
const namedPair = z.strictObject({
  a: z.string(),
  b: z.string(),
  difference: z.number(),
  df: z.number(),
  p: z.number(),
  ...interval,
});

export const smallestDifferenceSchema = z.strictObject({
  kind: z.enum(['absolute', 'relative']),
  value: z.number().positive(),
});
export const verdictKindSchema = z.enum([
  'better-and-matters',
  'better-may-not-matter',
  'no-difference-that-matters',
  'cannot-tell',
]);
export const designKindSchema = z.enum([
  'blocked',
  'confounded',
  'covariate',
  'grouped',
  'independent',
  'mixed',
  'nested',
]);
/** How many more it takes of each setup: on average over what the scatter may be, and for a smaller or larger one. */
export const moreNeededSchema = z.strictObject({
  unit: z.enum(['run', 'outing', 'group']),
  about: z.int(),
  low: z.int(),
  high: z.int().optional(),
});
export const pairSchema = z.strictObject({
  a: z.string(),
  b: z.string(),
  /** Absent where the two cannot be compared. */
  difference: z
    .strictObject({
      estimate: z.number(),
      ...interval,
      standardError: z.number(),
      degreesOfFreedom: z.number(),
      t: z.number(),
    })
    .optional(),
  ratio: z
    .strictObject({
      estimate: z.number(),
      ...interval,
      logStandardError: z.number(),
      degreesOfFreedom: z.number(),
      pValue: z.number(),
    })
    .optional(),
  pValue: z.number().optional(),
  verdict: verdictKindSchema,
  sentence: z.string(),
  /** Why the two cannot be told apart, and what would settle it. */
  refusal: z.strictObject({ because: z.string(), mend: z.string() }).optional(),
  more: moreNeededSchema.optional(),
  /** `more` in runs. */
  moreRunsEach: z.int().optional(),
  instrumentUncertainty: z.number().optional(),
  correctionUncertainty: z.number().optional(),
});

const methodWordsSchema = z.strictObject({ name: z.string(), reason: z.string() });

/** Runs of one setup in numbers; what needs two of them, or positive values, is absent without. */
const describedSetupSchema = z.strictObject({
  name: z.string(),
  n: z.int(),
  mean: z.number(),
  standardDeviation: z.number().optional(),
  coefficientOfVariation: z.number().optional(),
  median: z.number(),
  medianAbsoluteDeviation: z.number(),
  quartiles: z.tuple([z.number(), z.number(), z.number()]),
  intervalOfMean: z.strictObject(interval).optional(),
  geometricMean: z.number().optional(),
  intervalOfGeometricMean: z.strictObject(interval).optional(),
});

/** What `compareSetups` of the core gives back; see docs/methods.md, "Comparing". */
export const comparisonSchema = z.strictObject({
  setups: z.array(describedSetupSchema),
  better: z.enum(['less', 'more']),
  design: designKindSchema,
  method: methodWordsSchema,
  pairs: z.array(pairSchema),
  sentences: z.array(z.string()),
  /** What the design's model found beside the pairs. */
  model: z
    .strictObject({
      adjustedMeans: z.array(
        z.strictObject({
          setup: z.string(),
          mean: z.number(),
          standardError: z.number(),
          df: z.number(),
          ...interval,
        }),
      ),
      residualSd: z.number().optional(),
      groupSd: z.number().optional(),
      slope: z.strictObject({ estimate: z.number(), standardError: z.number(), p: z.number() }).optional(),
      slopesDiffer: fTest.optional(),
      setupTest: fTest.optional(),
      outingTest: fTest.optional(),
      unequalSpread: z.boolean(),
    })
    .optional(),
  /** Where another design was asked for: what the runs call for, and its answer. */
  called: z
    .strictObject({ design: designKindSchema, method: methodWordsSchema, pairs: z.array(pairSchema) })
    .optional(),
  repeatability: z
    .strictObject({
      withinSd: z.number(),
      betweenVariance: z.number(),
      intraclassCorrelation: z.number(),
      coefficient: z.number(),
      reml: z.strictObject({ withinSd: z.number(), betweenSd: z.number() }).optional(),
    })
    .optional(),
  smallestDifference: smallestDifferenceSchema,
  seed: z.number(),
  notes: z.array(z.string()),
  twoSetups: z
    .strictObject({
      welch: z.strictObject({ difference: z.number(), ...interval, t: z.number(), df: z.number(), p: z.number() }),
      ratioOfGeometricMeans: z
        .strictObject({ ratio: z.number(), ...interval, df: z.number(), p: z.number() })
        .optional(),
      hedgesG: z.strictObject({ cohenD: z.number(), exactCorrection: z.number(), g: z.number() }).optional(),
      mannWhitney: z.strictObject({ u: z.number(), p: z.number(), exact: z.boolean() }).optional(),
      hodgesLehmann: z
        .strictObject({ estimate: z.number(), lower: z.number().optional(), upper: z.number().optional() })
        .optional(),
      permutation: z.strictObject({ p: z.number(), exact: z.boolean(), arrangements: z.number() }).optional(),
      bootstrapBca: z.strictObject(interval).optional(),
      equivalence: z
        .strictObject({
          pLower: z.number(),
          pUpper: z.number(),
          pValue: z.number(),
          interval90: z.strictObject(interval),
          withinMargin: z.boolean(),
        })
        .optional(),
    })
    .optional(),
  severalSetups: z
    .strictObject({
      anova: z.strictObject({ ...fTest.shape, ssBetween: z.number(), ssWithin: z.number() }).optional(),
      welchAnova: fTest.optional(),
      kruskalWallis: z.strictObject({ h: z.number(), df: z.number(), p: z.number() }).optional(),
      gamesHowell: z.array(namedPair),
      tukeyKramer: z.array(namedPair),
      welchPairs: z.array(
        z.strictObject({
          a: z.string(),
          b: z.string(),
          p: z.number(),
          holm: z.number(),
          benjaminiHochberg: z.number(),
        }),
      ),
    })
    .optional(),
});
export type ComparisonDto = Immutable<z.output<typeof comparisonSchema>>;
export type PairDto = z.output<typeof pairSchema>;
