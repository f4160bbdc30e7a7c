import { channelDefinition, CHANNEL_NAMES, type ChannelName, type CleanLog } from '@ebrix/core/logs';
import { binExtremes } from '@ebrix/core/signal';
import { firstAtOrAfter } from '@ebrix/core/analysis';
import { convertUnit } from '@ebrix/core/units';
import type { Strip } from '@ebrix/contract';

type StripChannel = Strip['channels'][number];

/** A span of an unstored log to draw. */
export function stripOfLog({ timeS, channels }: CleanLog, bins: number, fromS?: number, toS?: number): Strip {
  const totalS = timeS.at(-1)!;
  const from = fromS === undefined ? 0 : Math.max(0, firstAtOrAfter(timeS, fromS) - 1);
  const to = toS === undefined ? timeS.length : Math.min(timeS.length, firstAtOrAfter(timeS, toS) + 1);
  return {
    fromS: fromS ?? 0,
    toS: toS ?? totalS,
    totalS,
    channels: CHANNEL_NAMES.flatMap((name) => {
      const values = channels[name]?.subarray(from, to);
      return values ? [drawChannel(name, values, values, (k) => timeS[from + k]!, bins)] : [];
    }),
  };
}

/** Binned extremes of one channel in field units; `timeAt` gives the time of a position in `low`. */
export function drawChannel(
  name: ChannelName,
  low: ArrayLike<number>,
  high: ArrayLike<number>,
  timeAt: (position: number) => number,
  bins: number,
): StripChannel {
  const { label, storedUnit, fieldUnit } = channelDefinition(name);
  const binned = binExtremes(low, high, bins);
  const field = (values: Float64Array): (number | null)[] =>
    Array.from(values, (value) =>
      Number.isNaN(value) ? null : Number(convertUnit(value, storedUnit, fieldUnit).toPrecision(6)),
    );
  return {
    name,
    label,
    unit: fieldUnit,
    timesS: Array.from(binned.positions, (k) => Number(timeAt(k).toFixed(3))),
    low: field(binned.low),
    high: field(binned.high),
  };
}
