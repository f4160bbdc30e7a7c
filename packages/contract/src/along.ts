import { z } from 'zod';
import { type Immutable, idSchema } from './common.js';
import { courseKindSchema, timingGateSchema } from './courses.js';
import { testKindSchema } from './imports.js';
import { photoInputSchema } from './before-riding.js';
import { directionSchema } from './plans.js';
import { effortSchema } from './riding.js';
import { afterRideSchema, markInputSchemaOfRide, preparationSchema, rideLimitsSchema, rideSchema } from './rides.js';

/** What a phone is called, by who carries it. */
const phoneName = z.string().trim().min(1, 'Give the phone a name.').max(60);
export const takeAlongSchema = z.strictObject({
  /** An outing of a plan; none: rides outside any plan. */
  planned: z
    .strictObject({ trialId: z.uuid(), outing: z.int().min(1).max(500) })
    .nullable()
    .default(null),
  phone: phoneName,
});
export type TakeAlong = z.input<typeof takeAlongSchema>;

/** The way as a phone follows it by positions: places in riding order, and gates in the direction ridden. */
const alongCourseSchema = z.strictObject({
  ...rideSchema.shape.course.shape,
  kind: courseKindSchema,
  path: z.array(z.strictObject({ latitude: z.number(), longitude: z.number(), distanceM: z.number() })),
  gates: z.array(timingGateSchema),
});
export const alongPlannedSchema = z.strictObject({
  ...rideSchema.pick({
    slot: true,
    setup: true,
    openClearance: true,
    testKind: true,
    direction: true,
    level: true,
    effort: true,
    laps: true,
    limits: true,
    preparation: true,
    fullVoltageV: true,
  }).shape,
  course: alongCourseSchema,
  /** Of the wheel a sensor may count; null where the bike's is not written down. */
  wheelCircumferenceM: z.number().positive().nullable(),
});
export type AlongPlanned = Immutable<z.output<typeof alongPlannedSchema>>;
const named = z.strictObject({ id: z.uuid(), name: z.string() });
/** All that a phone needs while nobody answers it. */
export const alongBundleSchema = z.strictObject({
  takenAt: z.iso.datetime(),
  title: z.string(),
  planned: z.array(alongPlannedSchema),
  /** Planned runs that are being ridden or were ridden already, and so stay here. */
  leftHere: z.int(),
  /** For a ride outside the plan. */
  setups: z.array(
    alongPlannedSchema.pick({
      setup: true,
      openClearance: true,
      limits: true,
      fullVoltageV: true,
      effort: true,
      wheelCircumferenceM: true,
    }),
  ),
  courses: z.array(alongCourseSchema),
  riders: z.array(named),
  /** What a ride begins with where nothing is said. */
  blank: z.strictObject({ preparation: preparationSchema, after: afterRideSchema }),
  /** The phone itself, as a logger. */
  logger: z.strictObject({ id: z.uuid(), name: z.string(), secret: z.string() }),
});
export type AlongBundle = Immutable<z.output<typeof alongBundleSchema>>;

/** A ride that a phone led by itself and that is over there. Its id is the phone’s, so that sending it twice is once. */
export const alongRideInputSchema = z.strictObject({
  slotId: z.uuid().nullable(),
  /** The planned run was ridden elsewhere meanwhile: this one counts beside the plan. */
  isBesidePlan: z.boolean().default(false),
  revisionId: z.uuid(),
  courseId: z.uuid(),
  testKind: testKindSchema,
  direction: directionSchema,
  level: z.string().trim().max(20).default(''),
  effort: effortSchema,
  laps: z.int().min(1).max(50),
  riderId: z.uuid().nullable(),
  /** Where its lines were sent before, by the logger protocol. */
  log: z.strictObject({ loggerId: z.uuid(), session: z.string().min(1).max(64) }).nullable(),
  limits: rideLimitsSchema,
  preparation: preparationSchema,
  after: afterRideSchema,
  state: z.enum(['kept', 'repeated', 'aborted']),
  reason: z.string().trim().max(1000).default(''),
  createdAt: z.iso.datetime(),
  startedAt: z.iso.datetime().nullable(),
  finishedAt: z.iso.datetime().nullable(),
  fromT: z.number().nullable(),
  toT: z.number().nullable(),
  marks: z.array(z.strictObject({ ...markInputSchemaOfRide.shape, isUndone: z.boolean().default(false) })).max(5000),
  /** The phone's clock when it sent this: the server takes the difference out. */
  sentAt: z.iso.datetime(),
});
export type AlongRideInput = z.output<typeof alongRideInputSchema>;

const outingFileHead = { format: z.literal('ebrix-along'), title: z.string().max(400), phone: phoneName } as const;
const loggedChannels = {
  channels: z.array(z.string()).min(1).max(32),
  units: z.record(z.string(), z.string()),
} as const;

/**
 * `outing.json` of a zip: an outing for a phone that meets no server. Lines of a ride are in `log/<id of the ride>.jsonl`, one each: number, seconds, values;
 * a photo is in `photo/<its id>`.
 */
export const outingZipSchema = z.strictObject({
  ...outingFileHead,
  formatVersion: z.literal(2),
  rides: z
    .array(z.strictObject({ id: z.uuid(), ride: alongRideInputSchema, log: z.strictObject(loggedChannels).nullable() }))
    .max(200),
  photos: z
    .array(z.strictObject({ id: z.uuid(), setupId: z.uuid(), caption: photoInputSchema.shape.caption }))
    .max(500),
});
export type OutingZip = z.input<typeof outingZipSchema>;

/** As phones saved it before there were photos in it: all in one text. */
export const alongFileSchema = z.strictObject({
  ...outingFileHead,
  formatVersion: z.literal(1),
  rides: z
    .array(
      z.strictObject({
        id: idSchema,
        ride: alongRideInputSchema,
        /** Channels and units of the lines, and the lines themselves: number, seconds, values. */
        log: z
          .strictObject({
            ...loggedChannels,
            lines: z.array(z.array(z.number().nullable())).max(500_000),
          })
          .nullable(),
      }),
    )
    .max(200),
});
export type AlongFile = z.output<typeof alongFileSchema>;
/** What became of each ride and photo of such a file. */
export const alongFileOutcomeSchema = z.strictObject({
  what: z.enum(['ride', 'photo']),
  id: z.uuid(),
  /** Of a photo that was refused its caption. */
  setup: z.string(),
  outcome: z.enum(['taken', 'was-here', 'refused']),
  message: z.string(),
});
export type AlongFileOutcome = z.output<typeof alongFileOutcomeSchema>;
