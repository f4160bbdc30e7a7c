import { rideRecord, type RideFacts, type RideRecord } from '@ebrix/core/forecast';
import { LogProblemError, type LogMapping } from '@ebrix/core/logs';
import { readAndClean } from './read-ride.js';

export interface RideToLearn {
  readonly bytes: Uint8Array;
  readonly mapping: LogMapping | null;
  readonly facts: RideFacts;
}

/** Logs as a calibration takes them. Fails: the problem of a log, with its name in front; `no-samples` where one tells nothing of motion. */
export function learnFromRides(rides: readonly RideToLearn[]): RideRecord[] {
  return rides.map(({ bytes, mapping, facts }) => {
    try {
      const record = rideRecord(readAndClean(bytes, mapping).log, facts);
      if (record) return record;
    } catch (error) {
      if (!(error instanceof LogProblemError)) throw error;
      throw new LogProblemError({ ...error.problem, message: `${facts.name}: ${error.problem.message}` });
    }
    throw new LogProblemError({
      code: 'no-samples',
      message: `${facts.name}: a forecast needs a clock and speed, distance or positions over at least ten seconds. Leave this ride out.`,
    });
  });
}
