import type { RideState } from './ride-state.js';
import type { StopCondition } from './stop-conditions.js';

export const RIDE_STATE_LABELS: Readonly<Record<RideState, string>> = {
  preparing: 'Prepare',
  armed: 'Ready',
  running: 'Running',
  finished: 'Finished',
  kept: 'Kept',
  repeated: 'To be repeated',
  aborted: 'Aborted',
};

/** What is too hot, too low or not safe, and what to do now. `degrees`: a temperature in °C as the person reads it. */
export function stopSentence(
  { code, severity, value, limit, coolToC }: StopCondition,
  degrees: (celsius: number) => string = (celsius) => `${Math.round(celsius)} °C`,
): string {
  const volts = (amount: number): string => `${Number(amount.toPrecision(3))} V`;
  if (code === 'brake-trouble') return 'Brake trouble: stop now, get off, do not ride on. Fix it before the next run.';
  if (code === 'pack-low')
    return severity === 'stop'
      ? `Pack at ${volts(value!)}, its cut-off is ${volts(limit!)}: switch the motor off and end the run.`
      : `Pack at ${volts(value!)}, near its cut-off of ${volts(limit!)}.`;
  const thing = { 'motor-hot': 'Hub', 'controller-hot': 'Controller', 'battery-hot': 'Battery' }[code];
  return severity === 'stop'
    ? `${thing} at ${degrees(value!)}: stop, let it cool to ${degrees(coolToC!)}. Do not touch anything that turns.`
    : `${thing} near its limit of ${degrees(limit!)}. Stop if it gets there and let it cool to ${degrees(coolToC!)}.`;
}
