import { z } from 'zod';
import { nameSchema, notesSchema, storedFields, versionSchema } from './common.js';

export const courseKindSchema = z.enum(['loop', 'out-and-back', 'one-way', 'flat-strip', 'climb']);
export const surfaceSchema = z.enum(['asphalt', 'paving', 'cobbles', 'gravel', 'earth', 'mixed']);
export const courseInputSchema = z.strictObject({
  name: nameSchema,
  kind: courseKindSchema,
  lengthM: z.number().positive('Must be above 0.').max(1_000_000).nullable().default(null),
  /** Finish minus start, as read off a map, a sign or a barometer: for a course without a track. */
  climbM: z.number().min(-5000).max(5000).nullable().default(null),
  climbUncertaintyM: z.number().positive('Must be above 0.').max(500).nullable().default(null),
  surface: surfaceSchema,
  notes: notesSchema,
  /** Hazards of the way, shown where the hand is about to act. */
  cautions: z.string().max(2000, 'At most 2000 characters.').default(''),
  /** Who allowed riding here, where that is needed. */
  permission: z.string().max(1000, 'At most 1000 characters.').default(''),
  windExposure: z.enum(['sheltered', 'mixed', 'open']).nullable().default(null),
  isBothWays: z.boolean().default(false),
  /** A slope as somebody guessed it, to be set beside the profile. */
  guessedGradeDeg: z.number().min(-45).max(45).nullable().default(null),
});
export const timingGateSchema = z.strictObject({
  kind: z.enum(['start', 'finish', 'lap', 'temperature-stop']),
  name: z.string().trim().max(60).default(''),
  distanceM: z.number().min(0).max(1_000_000),
});
export type TimingGate = z.output<typeof timingGateSchema>;
export const timingGatesInputSchema = z.strictObject({
  version: versionSchema,
  gates: z
    .array(timingGateSchema)
    .max(30, 'At most thirty gates.')
    .refine((gates) => gates.filter(({ kind }) => kind === 'start').length <= 1, 'One start gate at most.')
    .refine((gates) => gates.filter(({ kind }) => kind === 'finish').length <= 1, 'One finish gate at most.')
    .refine((gates) => {
      const at = (kind: string): number | undefined => gates.find((gate) => gate.kind === kind)?.distanceM;
      const [start, finish] = [at('start') ?? 0, at('finish') ?? Infinity];
      return finish > start;
    }, 'The finish gate must lie behind the start gate.'),
  /** The runs on this course are to be cut anew at these gates. */
  recutRuns: z.boolean().default(false),
});
const corner = z.strictObject({ eastM: z.number().min(-1e6).max(1e6), northM: z.number().min(-1e6).max(1e6) });
export const drawingSchema = z.strictObject({
  version: versionSchema,
  corners: z.array(corner).max(2000, 'At most 2000 corners.'),
  altitudes: z
    .array(z.strictObject({ distanceM: z.number().min(0).max(1_000_000), altitudeM: z.number().min(-500).max(9000) }))
    .max(2000),
});
export const trackSchema = z.strictObject({
  fileName: z.string(),
  lengthM: z.number(),
  /** Metres east and north of the first point: drawn without a map. */
  plan: z.array(z.strictObject({ eastM: z.number(), northM: z.number() })),
  /** Altitude smoothed over 50 m; absent when the track has none. */
  profile: z
    .array(
      z.strictObject({
        distanceM: z.number(),
        altitudeM: z.number(),
        /** Absent in tracks stored before grades were. */
        grade: z.number().optional(),
        gradeUncertainty: z.number().optional(),
      }),
    )
    .nullable(),
  climbedM: z.number().nullable(),
  /** Where the plan's first point lies; absent where it was drawn by hand, and in tracks stored before it was kept. */
  origin: z.strictObject({ latitude: z.number(), longitude: z.number() }).optional(),
});
export const courseSchema = z.strictObject({
  ...storedFields,
  ...courseInputSchema.shape,
  runCount: z.int(),
  track: trackSchema.nullable(),
  gates: z.array(timingGateSchema),
});
export type CourseInput = z.output<typeof courseInputSchema>;
export type Course = z.output<typeof courseSchema>;
export type Track = z.output<typeof trackSchema>;

export const outingInputSchema = z.strictObject({
  title: z.string().trim().max(80).default(''),
  date: z.iso.date('Give the day of the outing.'),
  airTemperatureC: z.number().min(-40).max(55).nullable().default(null),
  airPressureHpa: z.number().min(500).max(1100).nullable().default(null),
  relativeHumidity: z.number().min(0).max(1).nullable().default(null),
  windMps: z.number().min(0).max(40).nullable().default(null),
  /** Where the wind comes from, degrees from north. */
  windFromDeg: z.number().min(0).max(360).nullable().default(null),
  notes: notesSchema,
});
export const outingSchema = z.strictObject({ ...storedFields, ...outingInputSchema.shape, runCount: z.int() });
export type OutingInput = z.output<typeof outingInputSchema>;
export type Outing = z.output<typeof outingSchema>;
