import type { ChannelColumns, ChannelName } from './channels.js';
import type { Gap } from './gap.js';

export interface StuckSpan extends Gap {
  readonly channel: ChannelName;
}

const STUCK_S = 60;

/** Spans over a minute in which a moving bike's speed, voltage or current shows one and the same value. */
export function findStuck(channels: ChannelColumns, timeS: Float64Array): StuckSpan[] {
  const stuck: StuckSpan[] = [];
  for (const channel of ['speed', 'voltage', 'current', 'power'] as const) {
    const values = channels[channel];
    const others = (['speed', 'current', 'voltage', 'distance'] as const).filter(
      (name) => name !== channel && channels[name],
    );
    if (!values || others.length === 0 || isCoarse(values)) continue;
    let start = 0;
    for (let k = 1; k <= values.length; k++) {
      if (k < values.length && (values[k] === values[start] || Number.isNaN(values[k]!))) continue;
      const isLong = timeS[k - 1]! - timeS[start]! > STUCK_S;
      // A constant zero is a bike at rest or a motor off; a sensor sticks at any value.
      if (isLong && values[start] !== 0 && others.some((name) => varies(channels[name]!, start, k)))
        stuck.push({ channel, startS: timeS[start]!, endS: timeS[k - 1]! });
      start = k;
    }
  }
  return stuck;
}

function varies(values: Float64Array, from: number, to: number): boolean {
  const seen = new Set<number>();
  for (let k = from; k < to && seen.size < 4; k++) if (!Number.isNaN(values[k]!)) seen.add(values[k]!);
  return seen.size >= 4;
}

/** A scale of few steps stands still for a minute without being stuck. */
const FEW_STEPS = 40;
function isCoarse(values: Float64Array): boolean {
  const seen = new Set<number>();
  for (const value of values) {
    if (Number.isNaN(value)) continue;
    seen.add(value);
    if (seen.size > FEW_STEPS) return false;
  }
  return true;
}
