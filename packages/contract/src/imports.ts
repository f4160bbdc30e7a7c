import { z } from 'zod';
import { clearanceWaiverSchema } from './before-riding.js';
import { MOTOR_TOUCHES, TEST_KIND_NAMES, type MotorTouch, type TestKind } from '@ebrix/core/analysis';
import { UNITS, type UnitName } from '@ebrix/core/units';
import { withFormerNames, type Immutable } from './common.js';
import { channelNameSchema, stripSchema, unitSchema } from './figures.js';
import { openRiding, ridingSchema } from './riding.js';

export const timeFormatSchema = z.enum(['number', 'clock', 'clock-hm', 'iso', 'dmy', 'mdy', 'epoch-s', 'epoch-ms']);
export const columnMappingSchema = z.strictObject({
  header: z.string().max(500),
  channel: z.union([channelNameSchema, z.literal('time'), z.literal('date')]).nullable(),
  unit: unitSchema.optional(),
  timeFormat: timeFormatSchema.optional(),
  /** Of a current or power: 1 where discharge is counted positive, −1 where negative; absent: the log decides. */
  sign: z.union([z.literal(1), z.literal(-1)]).optional(),
});
export const mappingSchema = z.strictObject({
  columns: z.array(columnMappingSchema).min(1).max(256),
  decimal: z.enum(['.', ',']).optional(),
});
export type MappingDto = Immutable<z.output<typeof mappingSchema>>;

export const questionSchema = z.strictObject({
  kind: z.enum(['unit', 'channel', 'duplicate', 'decimal', 'date-order', 'sign']),
  columns: z.array(z.int()),
  text: z.string(),
  choices: z.array(z.string()),
  blocking: z.boolean(),
});
export const inspectionSchema = z.strictObject({
  format: z.enum(['csv', 'gpx']),
  encoding: z.string(),
  delimiter: z.string().nullable(),
  mapping: mappingSchema,
  questions: z.array(questionSchema),
  preview: z.array(z.array(z.string())),
  /** By the file's own clock; null where it has none, and in files staged before this was kept. */
  startedAt: z.iso.datetime().nullable().default(null),
  /** Where its clock stands for ten minutes or more, or is set back, s of the log: there may be another ride behind. */
  longGaps: z.array(z.strictObject({ startS: z.number(), endS: z.number() })).default([]),
  /** The saved logger profile with this very header, whose mapping was taken. */
  profile: z.strictObject({ id: z.uuid(), name: z.string() }).nullable(),
});
export type Inspection = Immutable<z.output<typeof inspectionSchema>>;

export const problemSchema = z.strictObject({ code: z.string(), message: z.string(), line: z.int().nullable() });
export const importStatusSchema = z.enum([
  'staged',
  'refused',
  'known',
  'queued',
  'working',
  'done',
  'failed',
  'cancelled',
]);
/** What is being done with a file just now; empty once nothing is. */
export const importStepSchema = z.enum(['', 'waiting', 'reading', 'storing']);
export type ImportStep = z.output<typeof importStepSchema>;
export const importFileSchema = z.strictObject({
  id: z.uuid(),
  fileName: z.string(),
  byteCount: z.int(),
  status: importStatusSchema,
  inspection: inspectionSchema.nullable(),
  problem: problemSchema.nullable(),
  /** The run made of it, or the run that the same file made earlier. */
  runId: z.uuid().nullable(),
  /** How many runs the file became: an outing holds several. */
  runCount: z.int(),
  step: importStepSchema,
  createdAt: z.iso.datetime(),
});
export type ImportFile = Immutable<z.output<typeof importFileSchema>>;

export const testKindSchema = z.enum(TEST_KIND_NAMES as [TestKind, ...TestKind[]]);
/** What was timed and read off beside a log, or without one. */
export const manualReadingsSchema = z.strictObject({
  laps: z
    .array(
      z.strictObject({
        gate: z.enum(['start', 'lap', 'finish']),
        direction: z.union([z.literal(1), z.literal(-1)]),
        elapsedS: z.number().min(0).max(86_400),
      }),
    )
    .max(200)
    .optional(),
  tripDistanceKm: z.number().positive().max(1000).optional(),
  tripStepKm: z.number().positive().max(10).optional(),
  displayMeanKmh: z.number().positive().max(120).optional(),
  displayStepKmh: z.number().positive().max(10).optional(),
  restVoltageStartV: z.number().positive().max(120).optional(),
  restVoltageEndV: z.number().positive().max(120).optional(),
  voltageStepV: z.number().positive().max(5).optional(),
  wallEnergyWh: z.number().positive().max(20_000).optional(),
  wallStepWh: z.number().positive().max(1000).optional(),
  temperatures: z
    .array(
      z.strictObject({
        place: z.enum(['motor', 'controller', 'battery', 'air']),
        elapsedS: z.number().min(0).max(86_400),
        valueC: z.number().min(-40).max(200),
      }),
    )
    .max(500)
    .optional(),
  heartRates: z
    .array(z.strictObject({ elapsedS: z.number().min(0).max(86_400), bpm: z.number().min(20).max(250) }))
    .max(500)
    .optional(),
  durationS: z.number().positive().max(200_000).optional(),
  durationStepS: z.number().positive().max(3600).optional(),
  odometerStartKm: z.number().min(0).max(1_000_000).optional(),
  odometerEndKm: z.number().min(0).max(1_000_000).optional(),
  odometerStepKm: z.number().positive().max(10).optional(),
  highestSpeedKmh: z.number().positive().max(120).optional(),
  highestSpeedBackKmh: z.number().positive().max(120).optional(),
  lowestSpeedKmh: z.number().positive().max(120).optional(),
  highestPowerW: z.number().positive().max(20_000).optional(),
  typicalPowerW: z.number().positive().max(20_000).optional(),
  highestCurrentA: z.number().positive().max(300).optional(),
  meanHeartRateBpm: z.number().min(20).max(250).optional(),
  peakHeartRateBpm: z.number().min(20).max(250).optional(),
  motorTouch: z.enum(Object.keys(MOTOR_TOUCHES) as [MotorTouch, ...MotorTouch[]]).optional(),
  cutBacks: z.int().min(0).max(1000).optional(),
  barsOut: z
    .array(z.strictObject({ km: z.number().min(0).max(1000), left: z.number().min(0).max(100) }))
    .max(50)
    .optional(),
  helpAfterS: z.array(z.number().min(0).max(60)).max(50).optional(),
  runOnS: z.array(z.number().min(0).max(60)).max(50).optional(),
  brakeCutoffS: z.array(z.number().min(0).max(60)).max(50).optional(),
  chargeHours: z.number().positive().max(100).optional(),
  helpAfterQuarterTurns: z.array(z.number().min(0).max(40)).max(50).optional(),
  levelTable: z
    .array(
      z.strictObject({
        level: z.int().min(0).max(20),
        speedKmh: z.number().positive().max(120).optional(),
        powerW: z.number().min(0).max(20_000).optional(),
      }),
    )
    .max(20)
    .optional(),
  lowestVoltageV: z.number().positive().max(120).optional(),
  gaugeSeen: z
    .array(z.strictObject({ elapsedS: z.number().min(0).max(86_400), bars: z.number().min(0).max(100) }))
    .max(100)
    .optional(),
  levelsSeen: z
    .array(z.strictObject({ elapsedS: z.number().min(0).max(86_400), level: z.string().trim().min(1).max(20) }))
    .max(100)
    .optional(),
});
export type ManualReadingsDto = Immutable<z.output<typeof manualReadingsSchema>>;
/** Bars or lights of a battery gauge before and after the ride; `bars` is how many it has when full. */
export const gaugeSchema = z
  .strictObject({
    start: z.number().min(0).max(100),
    end: z.number().min(0).max(100),
    bars: z.number().min(1).max(100),
  })
  .refine(
    ({ start, end, bars }) => end <= start && start <= bars,
    'The gauge cannot show more at the end than at the start, nor more than it has.',
  );

export const logSpanSchema = z
  .strictObject({ fromS: z.number().min(0), toS: z.number().positive() })
  .refine(({ fromS, toS }) => toS > fromS, 'A part has to end after it begins.');

export const runAssignmentSchema = z.strictObject({
  setupRevisionId: z.uuid(),
  courseId: z.uuid(),
  outingId: z.uuid(),
  riderId: z.uuid().nullable().default(null),
  loggerId: z.uuid().nullable().default(null),
  testKind: testKindSchema.default('range'),
  /** Mass of bike, kit, pack, rider and load as ridden; null: added up from the parts. */
  totalMassKg: z.number().positive().max(500).nullable().default(null),
  /** Ridden until the pack was empty. */
  emptied: z.boolean().default(false),
  /** Meant to start part-way through a charge: consumption over a part, not the range of a whole one. */
  isPartWay: z.boolean().default(false),
  gauge: gaugeSchema.nullable().default(null),
  /** The tester's usual consumption in this way of riding: a first figure beside the metered one. */
  ruleOfThumbWhPerKm: z.number().positive().max(200).nullable().default(null),
  /** True wheel circumference ÷ the one set in the display or logger; null: set right, or not known. */
  wheelFactor: z.number().min(0.3).max(3).nullable().default(null),
  notes: z.string().max(4000).default(''),
  /** 1: as the course is drawn; −1: the other way round. */
  direction: z.union([z.literal(1), z.literal(-1)]).default(1),
  riding: ridingSchema.default(openRiding),
  tyrePressureBar: z.number().positive().max(12).nullable().default(null),
  /** How hard it felt, 0 nothing to 10 the most. */
  perceivedEffort: z.number().min(0).max(10).nullable().default(null),
  /** The planned run it fulfils. */
  slotId: z.uuid().nullable().default(null),
  manualReadings: manualReadingsSchema.nullable().default(null),
  /** Part of the log that is this run, s of the log; null: all of it. */
  logSpan: logSpanSchema.nullable().default(null),
});
export type RunAssignment = Immutable<z.output<typeof runAssignmentSchema>>;
/** One run out of the log of an outing; what is null is as in the rest of the file. */
export const partOfOutingSchema = z.strictObject({
  logSpan: logSpanSchema,
  testKind: testKindSchema,
  courseId: z.uuid(),
  direction: z.union([z.literal(1), z.literal(-1)]).default(1),
  setupRevisionId: z.uuid().nullable().default(null),
  riding: ridingSchema.nullable().default(null),
  slotId: z.uuid().nullable().default(null),
});
export type PartOfOuting = Immutable<z.output<typeof partOfOutingSchema>>;
export const splitInputSchema = z.strictObject({
  mapping: mappingSchema.nullable(),
  /** Its gates are looked for in the positions of the log. */
  courseId: z.uuid().nullable().default(null),
});
export const splitSchema = z.strictObject({
  totalS: z.number(),
  runs: z.array(
    z.strictObject({
      fromS: z.number(),
      toS: z.number(),
      testKind: testKindSchema,
      why: z.string(),
      distanceM: z.number().nullable(),
      direction: z.union([z.literal(1), z.literal(-1)]),
    }),
  ),
  strip: stripSchema,
});
export type Split = Immutable<z.output<typeof splitSchema>>;
export const startImportSchema = z.strictObject({
  items: z
    .array(
      withFormerNames(
        { gatesWaiver: 'clearanceWaiver' },
        z.strictObject({
          importId: z.uuid(),
          mapping: mappingSchema.nullable(),
          assignment: withFormerNames({ hand: 'manualReadings', stretch: 'logSpan' }, runAssignmentSchema),
          /** Runs that this file holds; none: the whole file is one run. Each differs from the assignment in what is given here. */
          parts: z
            .array(withFormerNames({ stretch: 'logSpan' }, partOfOutingSchema))
            .max(50)
            .default([]),
          /** Remember the mapping for files with the same header under this name. */
          profileName: z.string().trim().max(80).nullable().default(null),
          /** Needed when safety checks of this setup are still to do: why it was ridden all the same. */
          clearanceWaiver: clearanceWaiverSchema.nullable().default(null),
        }),
      ),
    )
    .min(1)
    .max(200),
});
export type StartImport = Immutable<z.output<typeof startImportSchema>>;

/** Units a person can choose for a channel when the file does not tell. */
export const ALL_UNITS = Object.keys(UNITS) as UnitName[];
