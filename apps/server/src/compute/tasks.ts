import {
  compareSetups,
  compareTable,
  type Comparison,
  type ComparisonInput,
  type DesignKind,
  type SmallestDifference,
  type TableColumns,
  type TableComparison,
} from '@ebrix/core/compare';
import { weighForUse, type Candidate, type Use, type WeighedForUse } from '@ebrix/core/decision';
import { CoreError } from '@ebrix/core/errors';
import {
  catchLogProblem,
  catchLogProblemIn,
  inspectLogInPieces,
  LogProblemError,
  readTable,
  valueOf,
  type LogInspection,
  type LogMapping,
  type LogOutcome,
} from '@ebrix/core/logs';
import { assembleLog, type LoggerHello } from '@ebrix/core/logger';
import {
  calibrate,
  estimateCalibrated,
  forecast,
  forecastOfRides,
  missedChecks,
  trustOf,
  type RideRecord,
  type Forecast as Foretold,
  type ForecastAnswer,
  type ForecastRequest,
  type KnownOfBike,
  type Scenario,
} from '@ebrix/core/forecast';
import { readCourseFile, trackOfFile } from '@ebrix/core/courses';
import { estimateRide, type RideEstimate } from '@ebrix/core/planning';
import {
  analyseTest,
  splitOuting,
  type TimingGatePositions,
  type ProposedRun,
  type TestContext,
  type TestKind,
} from '@ebrix/core/analysis';
import type { NotebookInput, QuickLookLog, Strip, Track } from '@ebrix/contract';
import { notebookPage } from '../demo/demo-notebook.js';
import { rideDemoLog, type DemoRide } from '../demo/demo-ride.js';
import { isManualReadings } from '../rides/manual-readings-file.js';
import { QUICK_LOOK_BINS, quickLookOf } from './quick-look-of.js';
import { encodeChannels, readAndClean, readManualReadings, withPower } from './read-ride.js';
import { learnFromRides, recordOf, type RideToLearn } from './learn-rides.js';
import { stripOfLog } from './strip.js';
import type { Analysis, EstimateRequest, LearnedBike, Outcome, ReadRide, RunToAnalyse } from './task-types.js';
import { unpack, unpackInPieces } from './unpack.js';

/** The work that runs beside the requests, by name. Inputs and outputs pass between threads as plain data. */
export const TASKS = {
  inspect: ({ bytes }: { bytes: Uint8Array }): Promise<LogOutcome<LogInspection>> =>
    inspectLogInPieces(unpackInPieces(bytes).pieces),

  readRide: ({
    bytes,
    mapping,
    runs,
  }: {
    bytes: Uint8Array;
    mapping: LogMapping | null;
    runs: readonly RunToAnalyse[];
  }): Promise<LogOutcome<ReadRide>> =>
    catchLogProblemIn(async () => {
      if (isManualReadings(bytes)) return readManualReadings(runs);
      const { format, log } = await readAndClean(bytes, mapping);
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
  }: RunToAnalyse & { bytes: Uint8Array; mapping: LogMapping | null }): Promise<LogOutcome<Analysis>> =>
    catchLogProblemIn(async () =>
      analyseTest(testKind, isManualReadings(bytes) ? null : (await readAndClean(bytes, mapping)).log, context),
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
    const log = assembleLog(hello, chunks, fromT, toT);
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
  }): Promise<LogOutcome<{ totalS: number; runs: readonly ProposedRun[]; strip: Strip }>> =>
    catchLogProblemIn(async () => {
      const { log } = await readAndClean(bytes, mapping);
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
  }): Promise<LogOutcome<QuickLookLog>> =>
    catchLogProblemIn(async () => {
      const { log } = await readAndClean(bytes, mapping);
      return quickLookOf(log, test, context);
    }),

  readTrack: ({ bytes, fileName }: { bytes: Uint8Array; fileName: string }): LogOutcome<Track> =>
    catchLogProblem(() => trackOf(unpack(bytes), fileName)),

  weighUp: ({ use, candidates, seed }: { use: Use; candidates: readonly Candidate[]; seed?: number }): WeighedForUse =>
    weighForUse(use, candidates, seed),

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
    design?: DesignKind;
  }): LogOutcome<Outcome<TableComparison>> =>
    catchLogProblem(() => {
      const table = valueOf(readTable(unpack(bytes)));
      return catchCore(() => compareTable(table, columns, options));
    }),

  /** One ride foretold from others that came with the request. */
  forecastRides: ({
    rides,
    request,
  }: {
    rides: readonly RideToLearn[];
    request: ForecastRequest;
  }): Promise<LogOutcome<Outcome<ForecastAnswer>>> =>
    catchLogProblemIn(async () => {
      const records = await learnFromRides(rides);
      return catchCore(() => forecastOfRides(records, request));
    }),

  /** A bike learned from its stored rides; one that cannot be read is left out and told. */
  calibrate: ({
    rides,
    known,
  }: {
    rides: readonly RideToLearn[];
    known: KnownOfBike;
  }): Promise<LogOutcome<LearnedBike & { unread: readonly { id: string; why: string }[] }>> =>
    catchLogProblemIn(async () => {
      const found: { id: string; record: RideRecord | string }[] = [];
      for (const ride of rides) {
        const read = await catchLogProblemIn(() => recordOf(ride));
        found.push({ id: ride.id ?? '', record: read.ok ? read.value : read.problem.message });
      }
      const records = found.flatMap(({ record }) => (typeof record === 'string' ? [] : [record]));
      return {
        calibration: calibrate(records, known),
        trust: trustOf(records, known),
        unread: found.flatMap(({ id, record }) => (typeof record === 'string' ? [{ id, why: record }] : [])),
      };
    }),

  forecast: ({
    calibration,
    trust,
    scenario,
    seed,
  }: LearnedBike & { scenario: Scenario; seed: number }): Outcome<Foretold> =>
    catchCore(() => {
      const { warnings, ...rest } = forecast(calibration, scenario, { trust, seed });
      return { ...rest, warnings: [...missedChecks(trust), ...warnings] };
    }),

  tableColumns: ({ bytes }: { bytes: Uint8Array }): LogOutcome<{ columns: readonly string[]; rows: number }> =>
    catchLogProblem(() => {
      const { columns, records } = valueOf(readTable(unpack(bytes)));
      return { columns, rows: records.length };
    }),

  /** What each ride of a plan takes, by the ride model. */
  estimateCalibrated: ({ calibration, trust, scenario }: LearnedBike & { scenario: Scenario }): Outcome<RideEstimate> =>
    catchCore(() => estimateCalibrated(calibration, trust, scenario)),

  estimateRides: (rides: readonly EstimateRequest[]): readonly RideEstimate[] =>
    rides.map(({ model, course, conditions, laps }) => estimateRide(model, course, conditions, laps)),

  demoNotebook: (_: Record<string, never>): NotebookInput => notebookPage(),

  demoRide: (ride: DemoRide): Uint8Array => new TextEncoder().encode(rideDemoLog(ride)),
};
export type TaskName = keyof typeof TASKS;
export type TaskInput<N extends TaskName> = Parameters<(typeof TASKS)[N]>[0];
export type TaskResult<N extends TaskName> = Awaited<ReturnType<(typeof TASKS)[N]>>;

function catchCore<T>(work: () => T): Outcome<T> {
  try {
    return { ok: true, value: work() };
  } catch (error) {
    if (error instanceof CoreError) return { ok: false, code: error.code, message: error.message };
    throw error;
  }
}

function trackOf(bytes: Uint8Array, fileName: string): Track {
  const track = trackOfFile(valueOf(readCourseFile(bytes)));
  if (!track) throw new LogProblemError({ code: 'no-samples', message: 'Fewer than two positions can be read.' });
  return { fileName, ...track, plan: [...track.plan], profile: track.profile && [...track.profile] };
}
