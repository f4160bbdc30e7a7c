import type { AlongPlanned } from '@ebrix/contract';
import { TEST_KINDS } from '@ebrix/core/analysis';
import { stopSentence as sentenceOf, type StopCondition } from '@ebrix/core/ride';
import { inUnits, unitSystem } from './units.js';

export { TEST_KIND_NAMES } from '@ebrix/core/analysis';
export { RIDE_STATE_LABELS } from '@ebrix/core/ride';
/** As it is read and spoken, in the person's units. */
export function stopSentence(stop: StopCondition): string {
  return sentenceOf(stop, (celsius) => inUnits(celsius, '°C', unitSystem()));
}
export function testWords(kind: AlongPlanned['testKind']): string {
  return TEST_KINDS[kind].label;
}

export function clockWords(seconds: number): string {
  const whole = Math.max(0, Math.floor(seconds));
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}`;
}
