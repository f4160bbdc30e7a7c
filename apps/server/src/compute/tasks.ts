import {
  compareSetups,
  compareTable,
  type Comparison,
  type ComparisonInput,
  type SmallestDifference,
  type TableColumns,
  type TableComparison,
} from '@ebrix/core/compare';
import { CoreError } from '@ebrix/core/errors';
import {
  catchLogProblem,
  channelDefinition,
  CHANNEL_NAMES,
  cleanLog,
  haversineM,
  inspectLog,
  LogProblemError,
  readLog,
  readTable,
  type ChannelName,
  type CleaningReport,
  type CleanLog,
  type LogInspection,
  type LogMapping,
  type LogOutcome,
} from '@ebrix/core/logs';
import { buildPyramid } from '@ebrix/core/signal';
import {
  analyseRange,
  CLIMB_HYSTERESIS_M,
  climbedM,
  RANGE_METHOD,
  smoothProfile,
  type Figure,
  type FigureWarning,
  type Method,
  type TestContext,
} from '@ebrix/core/tests';
import type { QuickLookLog, Strip, Track } from '@ebrix/contract';
import { encodeColumn, encodingOf, type Encoding } from '../database/columns.js';
import { rideDemoLog, type DemoRide } from '../demo/demo-ride.js';
import { stripOfLog } from './strip.js';
import { unpack } from './unpack.js';

export interface EncodedChannel {
  readonly name: ChannelName | 'time';
  readonly encoding: Encoding;
  readonly sampleCount: number;
  readonly samples: Uint8Array;
  readonly pyramid: Uint8Array;
}

export interface Analysis {
  readonly method: Method;
  readonly figures: readonly Figure[];
  readonly warnings: readonly FigureWarning[];
}

export interface ReadRide extends Analysis {
  readonly format: 'csv' | 'gpx';
  readonly hasClock: boolean;
  readonly startEpochS: number | null;
  readonly durationS: number;
  readonly sampleCount: number;
  readonly cleaning: CleaningReport;
  readonly channels: readonly EncodedChannel[];
}

export type Outcome<T> =
  { readonly ok: true; readonly value: T } | { readonly ok: false; readonly code: string; readonly message: string };

const QUICK_LOOK_BINS = 800;
/** Points kept of a track: enough for a drawing on any screen. */
const TRACK_POINTS = 1500;

/** The work that runs beside the requests, by name. Inputs and outputs pass between threads as plain data. */
export const TASKS = {
  inspect: ({ bytes }: { bytes: Uint8Array }): LogOutcome<LogInspection> => withUnpacked(bytes, inspectLog),

  readRide: ({
    bytes,
    mapping,
    context,
  }: {
    bytes: Uint8Array;
    mapping: LogMapping | null;
    context: TestContext;
  }): LogOutcome<ReadRide> =>
    catchLogProblem(() => {
      const { format, log } = readAndClean(bytes, mapping);
      return {
        format,
        hasClock: log.hasClock,
        startEpochS: log.startEpochS ?? null,
        durationS: log.hasClock ? log.timeS.at(-1)! : 0,
        sampleCount: log.timeS.length,
        cleaning: log.report,
        channels: encodeChannels(log),
        ...analyse(log, context),
      };
    }),

  quickLook: ({
    bytes,
    mapping,
    context,
  }: {
    bytes: Uint8Array;
    mapping: LogMapping | null;
    context: TestContext;
  }): LogOutcome<QuickLookLog> =>
    catchLogProblem(() => {
      const { log } = readAndClean(bytes, mapping);
      return quickLookOf(log, context);
    }),

  readTrack: ({ bytes, fileName }: { bytes: Uint8Array; fileName: string }): LogOutcome<Track> =>
    catchLogProblem(() => trackOf(readAndClean(bytes, null).log, fileName)),

  compare: (input: ComparisonInput): Outcome<Comparison> => catchCore(() => compareSetups(input)),

  table: ({
    bytes,
    columns,
    ...options
  }: {
    bytes: Uint8Array;
    columns: TableColumns;
    smallestDifference: SmallestDifference;
    better: 'less' | 'more';
    seed: number;
    resamples: number;
  }): LogOutcome<Outcome<TableComparison>> =>
    catchLogProblem(() => {
      const table = valueOf(readTable(unpack(bytes)));
      return catchCore(() => compareTable(table, columns, options));
    }),

  tableColumns: ({ bytes }: { bytes: Uint8Array }): LogOutcome<{ columns: readonly string[]; rows: number }> =>
    catchLogProblem(() => {
      const { columns, records } = valueOf(readTable(unpack(bytes)));
      return { columns, rows: records.length };
    }),

  demoRide: (ride: DemoRide): Uint8Array => new TextEncoder().encode(rideDemoLog(ride)),
};
export type TaskName = keyof typeof TASKS;
export type TaskInput<N extends TaskName> = Parameters<(typeof TASKS)[N]>[0];
export type TaskResult<N extends TaskName> = ReturnType<(typeof TASKS)[N]>;

function withUnpacked<T>(bytes: Uint8Array, read: (bytes: Uint8Array) => LogOutcome<T>): LogOutcome<T> {
  return catchLogProblem(() => valueOf(read(unpack(bytes))));
}

function readAndClean(bytes: Uint8Array, mapping: LogMapping | null): { format: 'csv' | 'gpx'; log: CleanLog } {
  const raw = valueOf(readLog(unpack(bytes), mapping ?? undefined));
  return { format: raw.format, log: valueOf(cleanLog(raw)) };
}

function valueOf<T>(outcome: LogOutcome<T>): T {
  if (!outcome.ok) throw new LogProblemError(outcome.problem);
  return outcome.value;
}

function catchCore<T>(work: () => T): Outcome<T> {
  try {
    return { ok: true, value: work() };
  } catch (error) {
    if (error instanceof CoreError) return { ok: false, code: error.code, message: error.message };
    throw error;
  }
}

function analyse(log: CleanLog, context: TestContext): Analysis {
  return { method: RANGE_METHOD, ...analyseRange(log, context) };
}

/** Power is what people look at first; most loggers leave it to be multiplied. For drawing and export only. */
function withPower(log: CleanLog): CleanLog {
  const { voltage, current, power } = log.channels;
  if (power || !voltage || !current) return log;
  return { ...log, channels: { ...log.channels, power: voltage.map((v, k) => v * current[k]!) } };
}

function encodeChannels(log: CleanLog): EncodedChannel[] {
  const { timeS, channels } = withPower(log);
  const encode = (name: ChannelName | 'time', values: Float64Array): EncodedChannel => {
    const encoding = encodingOf(name);
    const pyramid = buildPyramid(values);
    return {
      name,
      encoding,
      sampleCount: values.length,
      samples: encodeColumn(values, encoding),
      pyramid: new Uint8Array(pyramid.buffer),
    };
  };
  return [
    encode('time', timeS),
    ...CHANNEL_NAMES.flatMap((name) => (channels[name] ? [encode(name, channels[name])] : [])),
  ];
}

function quickLookOf(log: CleanLog, context: TestContext): QuickLookLog {
  const { method, figures, warnings } = analyse(log, context);
  const strip: Strip = stripOfLog(withPower(log), QUICK_LOOK_BINS);
  return {
    test: 'range',
    method: { ...method },
    channels: CHANNEL_NAMES.flatMap((name) => {
      const values = log.channels[name];
      if (!values) return [];
      const { label, fieldUnit } = channelDefinition(name);
      return [{ name, label, unit: fieldUnit, samples: values.reduce((n, v) => (Number.isNaN(v) ? n : n + 1), 0) }];
    }),
    // The contract's arrays are mutable, the core's are not: same data.
    cleaning: log.report as unknown as QuickLookLog['cleaning'],
    figures: figures as unknown as QuickLookLog['figures'],
    warnings: [...warnings],
    strip,
  };
}

function trackOf({ channels: { latitude, longitude, altitude } }: CleanLog, fileName: string): Track {
  if (!latitude || !longitude)
    throw new LogProblemError({
      code: 'no-known-column',
      message: 'The file holds no positions, so there is no track in it.',
    });
  const kept = Array.from(latitude.keys()).filter((k) => !Number.isNaN(latitude[k]!) && !Number.isNaN(longitude[k]!));
  if (kept.length < 2)
    throw new LogProblemError({ code: 'no-samples', message: 'Fewer than two positions can be read.' });
  const distanceM = new Float64Array(kept.length);
  for (let j = 1; j < kept.length; j++)
    distanceM[j] =
      distanceM[j - 1]! +
      haversineM(latitude[kept[j - 1]!]!, longitude[kept[j - 1]!]!, latitude[kept[j]!]!, longitude[kept[j]!]!);
  const origin = kept[0]!;
  // A plane about the first point: within a ride's reach the error is far below a line's width.
  const northPerDegree = haversineM(
    latitude[origin]! - 0.5,
    longitude[origin]!,
    latitude[origin]! + 0.5,
    longitude[origin]!,
  );
  const eastPerDegree = northPerDegree * Math.cos((latitude[origin]! * Math.PI) / 180);
  const every = Math.max(1, Math.ceil(kept.length / TRACK_POINTS));
  const shown = kept.filter((_, j) => j % every === 0 || j === kept.length - 1);
  const profile =
    altitude &&
    smoothProfile(
      distanceM,
      Float64Array.from(kept, (k) => altitude[k]!),
    );
  const profileEvery = profile ? Math.max(1, Math.ceil(profile.distanceM.length / TRACK_POINTS)) : 1;
  return {
    fileName,
    lengthM: distanceM.at(-1)!,
    plan: shown.map((k) => ({
      eastM: round((longitude[k]! - longitude[origin]!) * eastPerDegree),
      northM: round((latitude[k]! - latitude[origin]!) * northPerDegree),
    })),
    profile: profile
      ? Array.from(profile.distanceM, (d, j) => ({
          distanceM: round(d),
          altitudeM: round(profile.altitudeM[j]!),
        })).filter((_, j, all) => j % profileEvery === 0 || j === all.length - 1)
      : null,
    climbedM: profile ? climbedM(profile.altitudeM, CLIMB_HYSTERESIS_M) : null,
  };
}

function round(value: number): number {
  return Math.round(value * 10) / 10;
}
