import { z } from 'zod';
import { nameSchema, notesSchema, storedFields } from './common.js';

export const courseKindSchema = z.enum(['loop', 'out-and-back', 'one-way', 'flat-strip', 'climb']);
export const surfaceSchema = z.enum(['asphalt', 'paving', 'cobbles', 'gravel', 'earth', 'mixed']);
export const courseInputSchema = z.strictObject({
  name: nameSchema,
  kind: courseKindSchema,
  lengthM: z.number().positive('Must be above 0.').max(1_000_000).nullable().default(null),
  surface: surfaceSchema,
  notes: notesSchema,
});
export const trackSchema = z.strictObject({
  fileName: z.string(),
  lengthM: z.number(),
  /** Metres east and north of the first point: drawn without a map. */
  plan: z.array(z.strictObject({ eastM: z.number(), northM: z.number() })),
  /** Altitude smoothed over 50 m; absent when the track has none. */
  profile: z.array(z.strictObject({ distanceM: z.number(), altitudeM: z.number() })).nullable(),
  climbedM: z.number().nullable(),
});
export const courseSchema = z.strictObject({
  ...storedFields,
  ...courseInputSchema.shape,
  runCount: z.int(),
  track: trackSchema.nullable(),
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
  notes: notesSchema,
});
export const outingSchema = z.strictObject({ ...storedFields, ...outingInputSchema.shape, runCount: z.int() });
export type OutingInput = z.output<typeof outingInputSchema>;
export type Outing = z.output<typeof outingSchema>;
