import { Injectable } from '@nestjs/common';
import { CHANNEL_NAMES } from '@ebrix/core/logs';
import { PYRAMID_BINS, pyramidLevelFor } from '@ebrix/core/signal';
import { firstAtOrAfter } from '@ebrix/core/analysis';
import type { Strip } from '@ebrix/contract';
import { drawChannel } from '../compute/strip.js';
import { LogRepository, type LogClock } from './log.repository.js';

/** Clocks kept ready: zooming asks for the same ride again and again. */
const CLOCKS_KEPT = 6;

/** A span of a stored ride to draw, from the samples where it is short, from the pyramid where it is long. */
@Injectable()
export class StripService {
  private readonly clocks = new Map<string, LogClock>();

  constructor(private readonly logs: LogRepository) {}

  async stripOf(logId: string, bins: number, fromS?: number, toS?: number): Promise<Strip> {
    const clock = await this.clockOf(logId);
    // A ride without a logger has nothing to draw.
    if (!clock) return { fromS: 0, toS: 0, totalS: 0, channels: [] };
    const [from, to] = samplesAround(clock, fromS, toS);
    const level = pyramidLevelFor(to - from, bins);
    const channelSpans =
      level === undefined
        ? await this.logs.samples(logId, from, to)
        : await this.logs.extremes(logId, clock.sampleCount, level, from, to);
    const byName = new Map(channelSpans.map((logSpan) => [logSpan.name, logSpan]));
    const timesS = Float64Array.from(byName.get('time')!.middle);
    const first = fromS === undefined ? 0 : Math.max(0, firstAtOrAfter(timesS, fromS) - 1);
    const end = toS === undefined ? timesS.length : Math.min(timesS.length, firstAtOrAfter(timesS, toS) + 1);
    const within = (values: Float32Array | Float64Array) => values.subarray(first, end);
    return {
      fromS: fromS ?? 0,
      toS: toS ?? clock.totalS,
      totalS: clock.totalS,
      channels: CHANNEL_NAMES.flatMap((name) => {
        const logSpan = byName.get(name);
        return logSpan
          ? [drawChannel(name, within(logSpan.low), within(logSpan.high), (k) => timesS[first + k]!, bins)]
          : [];
      }),
    };
  }

  private async clockOf(logId: string): Promise<LogClock | undefined> {
    const kept = this.clocks.get(logId);
    if (kept) return kept;
    const clock = await this.logs.clock(logId);
    if (!clock) return undefined;
    this.clocks.set(logId, clock);
    const [oldest] = this.clocks.keys();
    if (this.clocks.size > CLOCKS_KEPT && oldest !== undefined) this.clocks.delete(oldest);
    return clock;
  }
}

/** Samples [from, to) that hold this span and one more on either side, by whole bins; the clock is a little rounded. */
function samplesAround({ sampleCount, binStartsS }: LogClock, fromS?: number, toS?: number): readonly [number, number] {
  const [bin] = PYRAMID_BINS;
  const first = fromS === undefined ? 0 : Math.max(0, firstAtOrAfter(binStartsS, fromS) - 2);
  const last = toS === undefined ? binStartsS.length : firstAtOrAfter(binStartsS, toS) + 1;
  return [first * bin, Math.min(sampleCount, last * bin)];
}
