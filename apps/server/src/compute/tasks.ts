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
import { assembleLog, type LoggerHello, type StoredLine } from '@ebrix/core/logger';
import { readCourseFile, trackOfFile } from '@ebrix/core/courses';
import { estimateRide, type RideEstimate } from '@ebrix/core/planning';
import type { RideConditions, RideCourse, RideModel } from '@ebrix/core/ride-model';
import { buildPyramid } from '@ebrix/core/signal';
import {
  analyseLog,
  analyseTest,
  splitOuting,
  cutForTest,
  warnOfCut,
  type Figure,
  type FigureWarning,
  type Findings,
  type TimingGatePositions,
  type ProposedRun,
  type Method,
  type TestContext,
  type TestKind,
} from '@ebrix/core/analysis';
import type { QuickLookLog, Strip, Track } from '@ebrix/contract';
import { encodeColumn, encodingOf, type Encoding } from '../database/columns.js';
import { rideDemoLog, type DemoRide } from '../demo/demo-ride.js';
import { isManualReadings } from '../rides/manual-readings-file.js';
import { stripOfLog } from './strip.js';
import { unpack } from './unpack.js';

export interface EncodedChannel {
  readonly name: ChannelName | 'time';
  readonly encoding: Encoding;
  readonly sampleCount: number;
  readonly samples: Uint8Array;
  readonly pyramid: Uint8Array;
}

export interface EstimateRequest {
  readonly model: RideModel;
  readonly course: RideCourse;
  readonly conditions: RideConditions;
  readonly laps: number;
}

export interface Analysis extends Findings {
  readonly method: Method;
  readonly figures: readonly Figure[];
  readonly warnings: readonly FigureWarning[];
}

export interface ReadRide {
  /** One for each run that the file holds. */
  readonly analyses: readonly Analysis[];
  readonly format: 'csv' | 'gpx' | 'record';
  readonly hasClock: boolean;
  readonly startEpochS: number | null;
  readonly durationS: number;
  readonly sampleCount: number;
  readonly cleaning: CleaningReport;
  readonly channels: readonly EncodedChannel[];
}

export interface RunToAnalyse {
  readonly testKind: TestKind;
  readonly context: TestContext;
}

export type Outcome<T> =
  { readonly ok: true; readonly value: T } | { readonly ok: false; readonly code: string; readonly message: string };

const QUICK_LOOK_BINS = 800;

/** The work that runs beside the requests, by name. Inputs and outputs pass between threads as plain data. */
export const TASKS = {
  inspect: ({ bytes }: { bytes: Uint8Array }): LogOutcome<LogInspection> => withUnpacked(bytes, inspectLog),

  readRide: ({
    bytes,
    mapping,
    runs,
  }: {
    bytes: Uint8Array;
    mapping: LogMapping | null;
    runs: readonly RunToAnalyse[];
  }): LogOutcome<ReadRide> =>
    catchLogProblem(() => {
      if (isManualReadings(bytes)) return readManualReadings(runs);
      const { format, log } = readAndClean(bytes, mapping);
      return {
        format,
        hasClock: log.hasClock,
        startEpochS: log.startEpochS ?? null,
        durationS: log.hasClock ? log.timeS.at(-1)! : 0,
        sampleCount: log.timeS.length,
        cleaning: log.report,
        channels: encodeChannels(log),
        analyses: runs.map(({ testKind, context }) => analyseTest(testKind, log, context)),
      };
    }),

  /** Figures again of a log whose channels are stored already. */
  analyse: ({
    bytes,
    mapping,
    testKind,
    context,
  }: RunToAnalyse & { bytes: Uint8Array; mapping: LogMapping | null }): LogOutcome<Analysis> =>
    catchLogProblem(() =>
      analyseTest(testKind, isManualReadings(bytes) ? null : readAndClean(bytes, mapping).log, context),
    ),

  /** The log of a ride from the stored lines of its logger; undefined when none lies there. */
  assembleRide: ({
    hello,
    chunks,
    fromT,
    toT,
  }: {
    hello: Pick<LoggerHello, 'channels' | 'units'>;
    chunks: readonly string[];
    fromT: number;
    toT: number;
  }): { bytes: Uint8Array; mapping: LogMapping; samples: number } | undefined => {
    const lines = chunks.flatMap((chunk) => chunk.split('\n').map((line) => JSON.parse(line) as StoredLine));
    const log = assembleLog(hello, lines, fromT, toT);
    return log && { bytes: new TextEncoder().encode(log.csv), mapping: log.mapping, samples: log.samples };
  },

  /** The runs that the log of an outing seems to hold. */
  split: ({
    bytes,
    mapping,
    gates,
  }: {
    bytes: Uint8Array;
    mapping: LogMapping | null;
    gates: TimingGatePositions | null;
  }): LogOutcome<{ totalS: number; runs: readonly ProposedRun[]; strip: Strip }> =>
    catchLogProblem(() => {
      const { log } = readAndClean(bytes, mapping);
      return {
        totalS: log.hasClock ? log.timeS.at(-1)! : 0,
        runs: splitOuting(log, gates ? { gates } : {}),
        strip: stripOfLog(withPower(log), QUICK_LOOK_BINS),
      };
    }),

  quickLook: ({
    bytes,
    mapping,
    context,
    test,
  }: {
    bytes: Uint8Array;
    mapping: LogMapping | null;
    context: TestContext;
    test: TestKind;
  }): LogOutcome<QuickLookLog> =>
    catchLogProblem(() => {
      const { log } = readAndClean(bytes, mapping);
      return quickLookOf(log, test, context);
    }),

  readTrack: ({ bytes, fileName }: { bytes: Uint8Array; fileName: string }): LogOutcome<Track> =>
    catchLogProblem(() => trackOf(unpack(bytes), fileName)),

  /** One for each trial; fewer than two setups are nothing to compare. */
  compareAll: (inputs: readonly ComparisonInput[]): readonly Outcome<Comparison>[] =>
    inputs.map((input) =>
      input.setups.length < 2
        ? { ok: false, code: 'too-few-setups', message: 'Choose at least two setups to compare.' }
        : catchCore(() => compareSetups(input)),
    ),

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

  /** What each ride of a plan takes, by the ride model. */
  estimateRides: (rides: readonly EstimateRequest[]): readonly RideEstimate[] =>
    rides.map(({ model, course, conditions, laps }) => estimateRide(model, course, conditions, laps)),

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

/** A ride without a logger: its figures rest on what was written down, which the run keeps. */
function readManualReadings(runs: readonly RunToAnalyse[]): ReadRide {
  return {
    format: 'record',
    hasClock: false,
    startEpochS: null,
    durationS: Math.max(
      0,
      ...runs.flatMap(({ context }) => context.manualReadings?.laps ?? []).map(({ elapsedS }) => elapsedS),
    ),
    sampleCount: 0,
    cleaning: NOTHING_CLEANED,
    channels: [],
    analyses: runs.map(({ testKind, context }) => analyseTest(testKind, null, context)),
  };
}
const NOTHING_CLEANED: CleaningReport = {
  samplesRead: 0,
  samplesKept: 0,
  droppedTimes: 0,
  unreadable: [],
  raggedRecords: 0,
  ignoredColumns: [],
  medianStepS: 0,
  gapLimitS: 0,
  gaps: [],
  spikes: [],
  positionJumps: 0,
  stuck: [],
};

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

function quickLookOf(log: CleanLog, test: TestKind, context: TestContext): QuickLookLog {
  const warnings: FigureWarning[] = [];
  const cut = cutForTest(log, context);
  const warn = (code: string, message: string): void => void warnings.push({ code, message });
  warnOfCut(cut, warn);
  const { method, figures, passes, coasts, levels, events, spans, charts } = analyseLog(test, cut.log, context, warn);
  const strip: Strip = stripOfLog(withPower(log), QUICK_LOOK_BINS);
  return {
    test,
    method: { ...method },
    passes: [
      ...passes.map(({ direction, startS, endS, steadySpeed }) => ({ direction, startS, endS, steadySpeed })),
      ...coasts.map((coast) => ({ ...coast, steadySpeed: null })),
    ],
    events: events.map(({ startS, endS, latency, riseTime, overrun, brakeCutoff, time0to20, endsBy }) => ({
      startS,
      endS,
      latency,
      riseTime,
      overrun,
      brakeCutoff,
      time0to20,
      endsBy,
    })),
    levels: levels.map(({ level, steadySpeed, consumption, meanPower, sameAs, fromS, toS }) => ({
      level,
      steadySpeed: steadySpeed.value,
      consumption: consumption?.value ?? null,
      meanPower: meanPower?.value ?? null,
      sameAs: [...sameAs],
      startS: fromS,
      endS: toS,
    })),
    channels: CHANNEL_NAMES.flatMap((name) => {
      const values = log.channels[name];
      if (!values) return [];
      const { label, fieldUnit } = channelDefinition(name);
      return [{ name, label, unit: fieldUnit, samples: values.reduce((n, v) => (Number.isNaN(v) ? n : n + 1), 0) }];
    }),
    cleaning: log.report,
    figures,
    warnings,
    spans,
    charts,
    strip,
  };
}

function trackOf(bytes: Uint8Array, fileName: string): Track {
  const track = trackOfFile(valueOf(readCourseFile(bytes)));
  if (!track) throw new LogProblemError({ code: 'no-samples', message: 'Fewer than two positions can be read.' });
  return { fileName, ...track, plan: [...track.plan], profile: track.profile && [...track.profile] };
}
