import type { AlongPlanned } from '@ebrix/contract';
import { TEST_KINDS } from '@ebrix/core/analysis';
import type { RideState, StopCondition } from '@ebrix/core/ride';

export const STATE_WORDS: Readonly<Record<RideState, string>> = {
  preparing: 'Prepare',
  armed: 'Ready',
  running: 'Running',
  finished: 'Finished',
  kept: 'Kept',
  repeated: 'To be repeated',
  aborted: 'Aborted',
};

export { TEST_KIND_NAMES } from '@ebrix/core/analysis';
export function testWords(kind: AlongPlanned['testKind']): string {
  return TEST_KINDS[kind].label;
}

/** What is too hot, too low or not safe, and what to do now; degrees and volts as they were read. */
export function stopWords({ code, severity, value, limit, coolToC }: StopCondition): string {
  if (code === 'brake-trouble') return 'Brake trouble: stop now, get off, do not ride on. Fix it before the next run.';
  if (code === 'pack-low')
    return severity === 'stop'
      ? `Pack at ${value} V, its cut-off is ${limit} V: switch the motor off and end the run.`
      : `Pack at ${value} V, near its cut-off of ${limit} V.`;
  const thing = { 'motor-hot': 'Hub', 'controller-hot': 'Controller', 'battery-hot': 'Battery' }[code];
  return severity === 'stop'
    ? `${thing} at ${value} °C: stop, let it cool to ${coolToC} °C. Do not touch anything that turns.`
    : `${thing} near its limit of ${limit} °C. Stop if it gets there and let it cool to ${coolToC} °C.`;
}

export function clockWords(seconds: number): string {
  const whole = Math.max(0, Math.floor(seconds));
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}`;
}
