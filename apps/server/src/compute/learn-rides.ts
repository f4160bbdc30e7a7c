import { rideRecord, summaryRecord, type RideFacts, type RideFigures, type RideRecord } from '@ebrix/core/forecast';
import { cutForTest } from '@ebrix/core/analysis';
import { LogProblemError, type LogMapping } from '@ebrix/core/logs';
import { isManualReadings } from '../rides/manual-readings-file.js';
import { readAndClean } from './read-ride.js';

export interface RideToLearn {
  readonly id?: string;
  readonly bytes: Uint8Array;
  readonly mapping: LogMapping | null;
  readonly facts: RideFacts;
  /** Of a ride without a logger. */
  readonly figures?: RideFigures;
  readonly span?: { readonly fromS: number; readonly toS: number };
  readonly wheelFactor?: number;
}

const NOTHING_OF_MOTION = 'A forecast needs a clock and speed, distance or positions over at least ten seconds.';

/** Logs as a calibration takes them. Fails: the problem of a log, with its name in front; `no-samples` where one tells nothing of motion. */
export async function learnFromRides(rides: readonly RideToLearn[]): Promise<RideRecord[]> {
  const records: RideRecord[] = [];
  // One after the other: each log is gone from memory before the next is read.
  for (const ride of rides) {
    const record = await recordOf(ride);
    if (typeof record === 'string')
      throw new LogProblemError({ code: 'no-samples', message: `${ride.facts.name}: ${record} Leave this ride out.` });
    records.push(record);
  }
  return records;
}

/** A ride, or the reason why it cannot be learned from. */
export async function recordOf({
  bytes,
  mapping,
  facts,
  figures,
  span,
  wheelFactor = 1,
}: RideToLearn): Promise<RideRecord | string> {
  if (figures) return summaryRecord(figures, facts) ?? 'Its distance, time and energy are no ride to learn from.';
  if (isManualReadings(bytes)) return 'It has no log, and its notes do not tell distance, time and energy.';
  try {
    const { log } = cutForTest((await readAndClean(bytes, mapping)).log, span ? { logSpan: span } : {});
    const { speed, distance } = log.channels;
    for (const column of [speed, distance]) column?.forEach((value, k) => (column[k] = value * wheelFactor));
    return rideRecord(log, facts) ?? NOTHING_OF_MOTION;
  } catch (error) {
    if (!(error instanceof LogProblemError)) throw error;
    throw new LogProblemError({ ...error.problem, message: `${facts.name}: ${error.problem.message}` });
  }
}
