import { z } from 'zod';
import { RIDE_STATES, type RideState } from '@ebrix/core/ride';
import { idSchema, shortReasonSchema, versionSchema } from './common.js';
import { channelNameSchema, unitSchema } from './figures.js';
import { manualReadingsSchema, testKindSchema } from './imports.js';
import { directionSchema } from './plans.js';
import { effortSchema } from './riding.js';
import { letterSchema } from './trials.js';

export const rideStateSchema = z.enum(RIDE_STATES as unknown as [RideState, ...RideState[]]);
const reference = z.strictObject({ id: z.uuid(), name: z.string() });

export const MARK_KINDS = [
  'start',
  'lap',
  'finish',
  'event',
  'temperature',
  'gauge',
  'voltage',
  'heart-rate',
  'level',
  'note',
  'brake-trouble',
] as const;
/** One tap or one reading. Its id comes from the phone that made it, so that sending it twice is once. */
export const markInputSchemaOfRide = z.strictObject({
  id: idSchema,
  kind: z.enum(MARK_KINDS),
  /** The phone's clock. */
  at: z.iso.datetime(),
  /** Seconds from the start of the ride, where they are typed in from paper; else they follow from `at`. */
  elapsedS: z.number().min(0).max(86_400).nullable().default(null),
  direction: directionSchema.nullable().default(null),
  place: z.enum(['motor', 'controller', 'battery', 'air']).nullable().default(null),
  value: z.number().nullable().default(null),
  text: z.string().max(400).default(''),
});
export type RideMarkInput = z.output<typeof markInputSchemaOfRide>;
export const marksInputSchema = z.strictObject({
  marks: z.array(markInputSchemaOfRide).min(1).max(200),
  /** The phone's clock when it sent this: the server takes the difference out. */
  sentAt: z.iso.datetime(),
});
export const rideMarkSchema = z.strictObject({
  ...markInputSchemaOfRide.shape,
  elapsedS: z.number().nullable(),
  isUndone: z.boolean(),
});
export type RideMark = z.output<typeof rideMarkSchema>;

/** What is checked and read before a run. Null: not done yet. */
export const preparationSchema = z.strictObject({
  isChargedAndRested: z.boolean().default(false),
  /** It starts part-way through a charge, as meant. */
  isPartWay: z.boolean().default(false),
  startVoltageV: z.number().positive().max(120).nullable().default(null),
  gaugeStart: z.number().min(0).max(100).nullable().default(null),
  gaugeBars: z.number().min(1).max(100).nullable().default(null),
  isClearanceConfirmed: z.boolean().default(false),
  airTemperatureC: z.number().min(-40).max(55).nullable().default(null),
  windMps: z.number().min(0).max(40).nullable().default(null),
  windFromDeg: z.number().min(0).max(360).nullable().default(null),
  airPressureHpa: z.number().min(500).max(1100).nullable().default(null),
  tyrePressureBar: z.number().min(0.5).max(12).nullable().default(null),
  isLevelSet: z.boolean().default(false),
});
export type Preparation = z.output<typeof preparationSchema>;
/** Read off after the run, or typed from paper later. */
export const afterRideSchema = z.strictObject({
  tripDistanceKm: z.number().positive().max(1000).nullable().default(null),
  displayMeanKmh: z.number().positive().max(120).nullable().default(null),
  endVoltageV: z.number().positive().max(120).nullable().default(null),
  gaugeEnd: z.number().min(0).max(100).nullable().default(null),
  wallEnergyWh: z.number().positive().max(20_000).nullable().default(null),
  isEmptied: z.boolean().default(false),
  /** Ridden, where they are not those that were planned. */
  laps: z.int().min(1).max(50).nullable().default(null),
  gear: z.string().trim().max(20).default(''),
  payloadKg: z.number().min(0).max(300).nullable().default(null),
  /** How hard it felt, 0 nothing to 10 the most. */
  perceivedEffort: z.number().min(0).max(10).nullable().default(null),
  /** What display, phone and hand showed beside those. */
  readings: manualReadingsSchema.nullable().default(null),
  notes: z.string().max(2000).default(''),
});
export type AfterRide = z.output<typeof afterRideSchema>;
export const rideLimitsSchema = z.strictObject({
  motorC: z.number().positive().max(300).nullable(),
  controllerC: z.number().positive().max(300).nullable(),
  batteryC: z.number().positive().max(300).nullable(),
  packV: z.number().positive().max(120).nullable(),
});

export const newRideSchema = z.union([
  z.strictObject({ slotId: z.uuid() }),
  z.strictObject({
    revisionId: z.uuid('Choose a setup.'),
    courseId: z.uuid('Choose a course.'),
    testKind: testKindSchema,
    direction: directionSchema.default(1),
    level: z.string().trim().max(20).default(''),
    effort: effortSchema.default('steady'),
    laps: z.int().min(1).max(50).default(1),
  }),
]);
export type NewRide = z.output<typeof newRideSchema>;

export const loggerSessionSchema = z.strictObject({
  id: z.uuid(),
  logger: reference,
  session: z.string(),
  samples: z.int(),
  duplicates: z.int(),
  late: z.int(),
  bad: z.int(),
  /** Lines with numbers between the first and the last that never came. */
  missing: z.int(),
  lastSeenAt: z.iso.datetime(),
  isConnected: z.boolean(),
  isEnded: z.boolean(),
  /** The newest lines that could not be used, and why. */
  badLines: z.array(z.strictObject({ line: z.int(), reason: z.string() })),
});
export type LoggerSession = z.output<typeof loggerSessionSchema>;

export const rideSchema = z.strictObject({
  id: idSchema,
  version: versionSchema,
  state: rideStateSchema,
  createdAt: z.iso.datetime(),
  slot: z
    .strictObject({
      id: z.uuid(),
      trialId: z.uuid(),
      question: z.string(),
      letter: letterSchema,
      outing: z.int(),
      number: z.int(),
      of: z.int(),
    })
    .nullable(),
  setup: z.strictObject({ id: z.uuid(), name: z.string(), revisionId: z.uuid(), revisionNumber: z.int() }),
  openClearance: z.int(),
  course: z.strictObject({
    id: z.uuid(),
    name: z.string(),
    lengthM: z.number().nullable(),
    startM: z.number().nullable(),
    finishM: z.number().nullable(),
    cautions: z.string(),
    temperatureStopsM: z.array(z.number()),
  }),
  testKind: testKindSchema,
  direction: directionSchema,
  level: z.string(),
  effort: effortSchema,
  laps: z.int(),
  outing: z.strictObject({ id: z.uuid(), title: z.string(), date: z.iso.date() }).nullable(),
  rider: reference.nullable(),
  logger: reference.nullable(),
  preparation: preparationSchema,
  after: afterRideSchema,
  /** Full pack at rest, by chemistry and cells; null where they are not known. */
  fullVoltageV: z.number().nullable(),
  limits: rideLimitsSchema,
  marks: z.array(rideMarkSchema),
  startedAt: z.iso.datetime().nullable(),
  finishedAt: z.iso.datetime().nullable(),
  reason: z.string(),
  session: loggerSessionSchema.nullable(),
  runId: z.uuid().nullable(),
  /** How far making a run of it is: working, or why it failed. */
  conversion: z.strictObject({ status: z.string(), message: z.string() }).nullable(),
});
export type Ride = z.output<typeof rideSchema>;

export const rideChangeSchema = z.strictObject({
  version: versionSchema,
  preparation: preparationSchema.optional(),
  after: afterRideSchema.optional(),
  riderId: z.uuid().nullable().optional(),
  loggerId: z.uuid().nullable().optional(),
  outingId: z.uuid().nullable().optional(),
  limits: rideLimitsSchema.optional(),
});
export type RideChange = z.output<typeof rideChangeSchema>;
export const rideStepSchema = z.strictObject({
  to: rideStateSchema,
  /** State the page showed: another phone may have gone on meanwhile. */
  from: rideStateSchema,
  reason: shortReasonSchema.nullable().default(null),
});
export type RideStep = z.output<typeof rideStepSchema>;
export const simulateSchema = z.strictObject({ pace: z.number().min(1).max(60).default(1) });

export const rideListItemSchema = z.strictObject({
  id: idSchema,
  state: rideStateSchema,
  createdAt: z.iso.datetime(),
  setup: z.string(),
  course: z.string(),
  testKind: testKindSchema,
  letter: letterSchema.nullable(),
  question: z.string().nullable(),
  runId: z.uuid().nullable(),
});
export const nextSlotSchema = z.strictObject({
  slotId: z.uuid(),
  trialId: z.uuid(),
  question: z.string(),
  letter: letterSchema,
  setup: z.string(),
  course: z.string(),
  testKind: testKindSchema,
  outing: z.int(),
  number: z.int(),
  of: z.int(),
  openClearance: z.int(),
});
export const rideOverviewSchema = z.strictObject({
  underway: z.array(rideListItemSchema),
  next: z.array(nextSlotSchema),
  recent: z.array(rideListItemSchema),
});
export type RideOverview = z.output<typeof rideOverviewSchema>;

/** The newest readings of a ride, a few times a second. */
export const liveSchema = z.strictObject({
  rideId: idSchema,
  /** Since the start of the run, by the logger's clock where there is one. */
  elapsedS: z.number().nullable(),
  distanceM: z.number().nullable(),
  values: z.array(z.strictObject({ name: channelNameSchema, value: z.number(), unit: unitSchema })),
  /** Sensors that guard the ride and gave no value for this long, while the logger goes on. */
  silentSensors: z.array(z.strictObject({ name: channelNameSchema, silentS: z.int() })),
  /** Seconds since the logger was last heard. */
  silentS: z.number().nullable(),
  isConnected: z.boolean(),
  samples: z.int(),
  missing: z.int(),
  bad: z.int(),
  stops: z.array(
    z.strictObject({
      code: z.enum(['motor-hot', 'controller-hot', 'battery-hot', 'pack-low', 'brake-trouble']),
      severity: z.enum(['caution', 'stop']),
      value: z.number().nullable(),
      limit: z.number().nullable(),
      coolToC: z.number().nullable(),
    }),
  ),
});
export type Live = z.output<typeof liveSchema>;

/** Answer to a logger's request over HTTP. */
export const loggerAnswerSchema = z.strictObject({
  session: z.string(),
  /** First line that is missing: send from here on. */
  next: z.int(),
  stored: z.int(),
  duplicates: z.int(),
  bad: z.array(z.strictObject({ line: z.int(), code: z.string(), reason: z.string() })),
});
