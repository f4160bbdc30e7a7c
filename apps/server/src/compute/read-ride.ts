import { analyseTest } from '@ebrix/core/analysis';
import {
  CHANNEL_NAMES,
  cleanLog,
  readLogInPieces,
  valueOf,
  type ChannelName,
  type CleaningReport,
  type CleanLog,
  type LogMapping,
} from '@ebrix/core/logs';
import { buildPyramid } from '@ebrix/core/signal';
import { encodeColumn, encodingOf } from '../database/columns.js';
import type { EncodedChannel, ReadRide, RunToAnalyse } from './task-types.js';
import { unpackInPieces } from './unpack.js';

export async function readAndClean(
  bytes: Uint8Array,
  mapping: LogMapping | null,
): Promise<{ format: 'csv' | 'gpx'; log: CleanLog }> {
  const { pieces, byteCount } = unpackInPieces(bytes);
  const raw = valueOf(await readLogInPieces(pieces, mapping ?? undefined, byteCount));
  return { format: raw.format, log: valueOf(cleanLog(raw, { isGivenAway: true })) };
}

/** A ride without a logger: its figures rest on what was written down, which the run keeps. */
export function readManualReadings(runs: readonly RunToAnalyse[]): ReadRide {
  return {
    format: 'record',
    hasClock: false,
    startEpochS: null,
    durationS: Math.max(
      0,
      ...runs.flatMap(({ context }) => context.manualReadings?.laps ?? []).map(({ elapsedS }) => elapsedS),
      ...runs.map(({ context }) => context.manualReadings?.durationS ?? 0),
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
export function withPower(log: CleanLog): CleanLog {
  const { voltage, current, power } = log.channels;
  if (power || !voltage || !current) return log;
  return { ...log, channels: { ...log.channels, power: voltage.map((v, k) => v * current[k]!) } };
}

export function encodeChannels(log: CleanLog): EncodedChannel[] {
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
