import { cleanLog, readLog, type CleanLog } from '../logs/index.js';
import { seededRandom } from '../numeric/index.js';
import { thinTrace, writeRideCsv, type LoggerModel, type RideTrace } from '../ride-model/index.js';

/** A CSV text as a cleaned log; throws what a tester would be told. */
export function logOf(text: string): CleanLog {
  const raw = readLog(new TextEncoder().encode(text));
  if (!raw.ok) throw new Error(raw.problem.message);
  const clean = cleanLog(raw.value);
  if (!clean.ok) throw new Error(clean.problem.message);
  return clean.value;
}

/** Columns given as functions of time, as a log. */
export function logOfColumns(
  seconds: number,
  hz: number,
  columns: Readonly<Record<string, (t: number) => number>>,
): CleanLog {
  const rows = Array.from({ length: Math.round(seconds * hz) + 1 }, (_, k) =>
    [k / hz, ...Object.values(columns).map((at) => at(k / hz))].map((value) => Number(value.toFixed(4))).join(','),
  );
  return logOf([['time (s)', ...Object.keys(columns)].join(','), ...rows].join('\n'));
}

/** What a perfect logger but for its noise wrote of a simulated ride. */
export function loggedOf(trace: RideTrace, every: number, more: Partial<LoggerModel> = {}, seed = 5): CleanLog {
  return logOf(csvOf(trace, every, more, seed));
}
export function csvOf(trace: RideTrace, every: number, more: Partial<LoggerModel> = {}, seed = 5): string {
  return writeRideCsv(
    thinTrace(trace, every),
    { currentGain: 1, voltageGain: 1, distanceGain: 1, dropOuts: [], spikeCount: 0, hasMore: true, ...more },
    seededRandom(seed),
  );
}
