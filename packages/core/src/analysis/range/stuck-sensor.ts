import type { CleanLog } from '../../logs/index.js';

/** A column without the spans in which its sensor stood still: what it showed there is no measurement. */
export function withoutStuck(
  timeS: Float64Array,
  values: Float64Array,
  { stuck }: Pick<CleanLog['report'], 'stuck'>,
  channel: 'current' | 'power',
): Float64Array {
  const spans = stuck.filter((one) => one.channel === channel);
  if (spans.length === 0) return values;
  return values.map((value, k) =>
    spans.some(({ startS, endS }) => timeS[k]! >= startS && timeS[k]! <= endS) ? NaN : value,
  );
}
