import type { Strip } from '@ebrix/contract';

/** The bins of an unstored strip within a span; there is nothing finer to fetch. */
export function cropStrip(strip: Strip, { fromS, toS }: { fromS: number; toS: number }): Strip {
  return {
    ...strip,
    fromS,
    toS,
    channels: strip.channels.map((channel) => {
      const kept = [...channel.timesS.keys()].filter((k) => channel.timesS[k]! >= fromS && channel.timesS[k]! <= toS);
      return {
        ...channel,
        timesS: kept.map((k) => channel.timesS[k]!),
        low: kept.map((k) => channel.low[k]!),
        high: kept.map((k) => channel.high[k]!),
      };
    }),
  };
}
