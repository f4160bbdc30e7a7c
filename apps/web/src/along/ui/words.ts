import type { AlongPlanned } from '@ebrix/contract';
import { TEST_KINDS } from '@ebrix/core/analysis';

export { TEST_KIND_NAMES } from '@ebrix/core/analysis';
export { RIDE_STATE_LABELS, stopSentence } from '@ebrix/core/ride';
export function testWords(kind: AlongPlanned['testKind']): string {
  return TEST_KINDS[kind].label;
}

export function clockWords(seconds: number): string {
  const whole = Math.max(0, Math.floor(seconds));
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}`;
}
