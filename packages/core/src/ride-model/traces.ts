import { TRACE_COLUMNS, type RideTrace } from './ride-trace.js';

/** Every n-th sample of a ride: what a slower logger would have seen of it. */
export function thinTrace(trace: RideTrace, every: number): RideTrace {
  return mapColumns((name) => trace[name].filter((_, k) => k % every === 0));
}

/** Samples [from, to] of a ride. */
export function sliceTrace(trace: RideTrace, from: number, to: number): RideTrace {
  return mapColumns((name) => trace[name].subarray(from, to + 1));
}

/** Where every simulated test begins. */
export const START_ALTITUDE_M = 20;

/** Rides one after another on one clock, one odometer and one way. */
export function joinTraces(traces: readonly RideTrace[]): RideTrace {
  const lengths = traces.map(({ timeS }) => timeS.length);
  const total = lengths.reduce((sum, length) => sum + length, 0);
  const joined = mapColumns(() => new Float64Array(total));
  let at = 0;
  let [seconds, metres, rise] = [0, 0, 0];
  for (const trace of traces) {
    for (const name of TRACE_COLUMNS) joined[name].set(trace[name], at);
    const n = trace.timeS.length;
    for (let k = at; k < at + n; k++) {
      joined.timeS[k]! += seconds;
      joined.distanceM[k]! += metres;
      joined.altitudeM[k]! += rise;
    }
    const stepS = n > 1 ? trace.timeS[n - 1]! - trace.timeS[n - 2]! : 1;
    seconds = joined.timeS[at + n - 1]! + stepS;
    metres = joined.distanceM[at + n - 1]!;
    rise = joined.altitudeM[at + n - 1]! - START_ALTITUDE_M;
    at += n;
  }
  return joined;
}

function mapColumns(columnOf: (name: keyof RideTrace) => Float64Array): RideTrace {
  return Object.fromEntries(TRACE_COLUMNS.map((name) => [name, columnOf(name)])) as unknown as RideTrace;
}
