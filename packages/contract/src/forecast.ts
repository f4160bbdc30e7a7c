import { z } from 'zod';
import { type Immutable } from './common.js';
import { testKindSchema } from './imports.js';

const finite = z.number();
export const FORECAST_FILES = 20;
const MOST_POINTS = 50_000;

const conditionFields = {
  totalMassKg: finite.positive().max(1000),
  airDensity: finite.min(0.5).max(2).optional(),
  airTemperatureC: finite.min(-40).max(55).optional(),
  /** Mean head wind along the way, m/s. */
  windMps: finite.min(-30).max(30).optional(),
};
const ridingSchema = z.strictObject({
  /** Order for help, 0–1. */
  demand: finite.min(0).max(1).optional(),
  level: z.int().min(0).max(20).optional(),
  targetSpeedKmh: finite.min(3).max(100).optional(),
  riderPowerW: finite.min(0).max(600).optional(),
  stopsPerKm: finite.min(0).max(20).optional(),
});

export const forecastScenarioSchema = z.strictObject({
  profile: z
    .array(
      z.strictObject({
        distanceM: finite,
        altitudeM: finite,
        /** Until the next point, clockwise: from north, or from where the way sets out. */
        headingDeg: finite.min(-360).max(720).optional(),
      }),
    )
    .min(2, 'Give at least two points, the start and the end of the way.')
    .max(MOST_POINTS, `At most ${MOST_POINTS} points; leave out points that lie close together.`),
  ...conditionFields,
  startShare: finite.positive().max(1),
  reserveShare: finite.min(0).max(0.95).optional(),
  riding: ridingSchema,
  /** Its strength and where it comes from, in the frame of the headings; instead of `windMps`. */
  wind: z.strictObject({ mps: finite.min(0).max(30), fromDeg: finite.min(-360).max(720) }).optional(),
  secondPack: z
    .strictObject({
      capacityAh: finite.positive().max(1000),
      massKg: finite.min(0).max(100),
      use: z.enum(['together', 'in turn']).default('together'),
    })
    .optional(),
});
export type ForecastScenario = z.output<typeof forecastScenarioSchema>;

export const quickLookForecastSchema = z.strictObject({
  runs: z
    .array(
      z.strictObject({
        file: z.string().min(1).max(300),
        test: testKindSchema,
        ...conditionFields,
        riderPowerW: finite.min(0).max(600).optional(),
      }),
    )
    .min(1, 'Send at least one ride: a forecast learns from rides.')
    .max(FORECAST_FILES, `At most ${FORECAST_FILES} rides at once.`),
  known: z
    .strictObject({
      capacityAh: finite.positive().max(1000),
      nominalVoltageV: finite.positive().max(200),
      seriesCells: z.int().min(1).max(60),
      usableShare: finite.positive().max(1),
      cdaM2: finite.positive().max(5),
      crr: finite.positive().max(0.2),
      wheelCircumferenceM: finite.min(0.5).max(4),
      temperatureLimitC: finite.min(0).max(300),
    })
    .partial()
    .default({}),
  scenario: forecastScenarioSchema,
  seed: z
    .int()
    .min(0)
    .max(2 ** 31 - 1)
    .default(1),
});
export type QuickLookForecastRequest = z.output<typeof quickLookForecastSchema>;

const interval = z.tuple([z.number(), z.number()]);
export const forecastFigureSchema = z.strictObject({
  key: z.enum([
    'time',
    'meanSpeed',
    'minSpeed',
    'energyOut',
    'netConsumption',
    'chargeLeftShare',
    'rangeWithReserve',
    'rangeToCutoff',
    'packChange',
    'lowestVoltage',
    'motorTemperaturePeak',
    'controllerTemperaturePeak',
    'secondsToLimit',
    'riderShare',
    'farthestReturn',
  ]),
  label: z.string(),
  value: z.number(),
  unit: z.string(),
  interval95: interval,
  /** Shares of the variance, largest first. */
  contributions: z.array(z.strictObject({ source: z.string(), share: z.number() })),
});
const trustFigureSchema = z.strictObject({
  n: z.int(),
  hits: z.int(),
  bias: z.number(),
  spread: z.number(),
  beyond: z.number(),
  within: z.number(),
});
export const forecastTrustSchema = z.strictObject({
  energy: trustFigureSchema.optional(),
  time: trustFigureSchema.optional(),
  rise: trustFigureSchema.optional(),
  rides: z.array(
    z.strictObject({
      name: z.string(),
      figures: z.array(
        z.strictObject({
          key: z.enum(['energy', 'time', 'rise']),
          forecast: z.number(),
          interval95: interval,
          ridden: z.number(),
        }),
      ),
    }),
  ),
  isMissed: z.boolean(),
});
export const forecastParameterSchema = z.strictObject({
  name: z.string(),
  label: z.string(),
  unit: z.string(),
  value: z.number(),
  interval95: interval,
  from: z.enum(['data', 'prior']),
});
export const forecastWarningSchema = z.strictObject({ code: z.string(), message: z.string() });
export const forecastAnswerSchema = z.strictObject({
  figures: z.array(forecastFigureSchema),
  along: z.array(
    z.strictObject({
      distanceM: z.number(),
      altitudeM: z.number(),
      speedKmh: z.number(),
      powerW: z.number(),
      chargeLeftShare: z.number(),
      chargeBand: interval,
      motorTemperatureC: z.number(),
      temperatureBand: interval,
      controllerTemperatureC: z.number().optional(),
      controllerBand: interval.optional(),
    }),
  ),
  notThere: z.strictObject({ share: z.number(), by: z.enum(['cut-off', 'stall', 'time']).nullable() }),
  belowReserve: z.number(),
  cutBack: z.number(),
  parameters: z.array(forecastParameterSchema),
  trust: forecastTrustSchema,
  warnings: z.array(forecastWarningSchema),
});
export type ForecastAnswer = Immutable<z.output<typeof forecastAnswerSchema>>;

/** A bike as its rides showed it: the pages foretell with it themselves. Its inside is the core’s (`Calibration`, `Trust`). */
export const setupCalibrationSchema = z.strictObject({
  setup: z.strictObject({ id: z.uuid(), name: z.string(), revisionId: z.uuid() }),
  calibration: z.record(z.string(), z.unknown()),
  trust: forecastTrustSchema,
  parameters: z.array(forecastParameterSchema),
  /** What the next ride would be taken as where nothing else is said. */
  usual: z.strictObject({
    totalMassKg: z.number(),
    massIsKnown: z.boolean(),
    targetSpeedKmh: z.number(),
    helpEndsKmh: z.number().nullable(),
    riderPowerW: z.number(),
    levels: z.array(z.strictObject({ level: z.number(), demand: z.number() })),
    packAh: z.number().nullable(),
    packMassKg: z.number().nullable(),
    temperatureLimitC: z.number().nullable(),
  }),
  /** Another setup on the same bike, whose rides taught air and road where this one has few. */
  sharedFrom: z.string().nullable(),
  rides: z.array(z.strictObject({ id: z.uuid(), name: z.string(), isUsed: z.boolean(), why: z.string() })),
});
export type SetupCalibration = Immutable<z.output<typeof setupCalibrationSchema>>;

/** A forecast for a setup that is stored here, on a course that is or on a way of its own. */
export const forecastAskSchema = z.strictObject({
  setupId: z.uuid(),
  scenario: forecastScenarioSchema,
  seed: z
    .int()
    .min(0)
    .max(2 ** 31 - 1)
    .default(1),
});
export type ForecastAsk = z.output<typeof forecastAskSchema>;

/** Kept until it is ridden. The question is the page’s address, the figures as they were foretold. */
export const keptForecastInputSchema = z.strictObject({
  title: z.string().trim().min(2, 'Give it a name.').max(120),
  setupId: z.uuid(),
  courseId: z.uuid().nullable().default(null),
  question: z.strictObject({ address: z.string().max(4000), words: z.string().max(600) }),
  figures: z.array(forecastFigureSchema).min(1).max(20),
});
export type KeptForecastInput = z.output<typeof keptForecastInputSchema>;
export const keptForecastSchema = z.strictObject({
  id: z.uuid(),
  version: z.int(),
  ...keptForecastInputSchema.shape,
  setupName: z.string(),
  at: z.iso.datetime(),
  /** The ride it was set against, and how it did. */
  ridden: z
    .strictObject({
      runId: z.uuid(),
      name: z.string(),
      date: z.iso.date(),
      figures: z.array(
        z.strictObject({ key: z.string(), value: z.number(), interval95: interval, isInside: z.boolean() }),
      ),
    })
    .nullable(),
});
export type KeptForecast = Immutable<z.output<typeof keptForecastSchema>>;
export const setAgainstRideSchema = z.strictObject({ version: z.int(), runId: z.uuid().nullable() });
