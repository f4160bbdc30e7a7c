import { Injectable } from '@nestjs/common';
import { CHANNEL_NAMES } from '@ebrix/core/logs';
import { PYRAMID_BINS, pyramidLevelFor } from '@ebrix/core/signal';
import { firstAtOrAfter } from '@ebrix/core/analysis';
import type { Strip } from '@ebrix/contract';
import { drawChannel } from '../compute/strip.js';
import { LogRepository } from './log.repository.js';

/** Clocks kept ready: zooming asks for the same ride again and again. */
const CLOCKS_KEPT = 6;

/** A span of a stored ride to draw, from the samples where it is short, from the pyramid where it is long. */
@Injectable()
export class StripService {
  private readonly clocks = new Map<string, Float64Array>();

  constructor(private readonly logs: LogRepository) {}

  async stripOf(logId: string, bins: number, fromS?: number, toS?: number): Promise<Strip> {
    const timeS = await this.clockOf(logId);
    const totalS = timeS.at(-1);
    // A ride without a logger has nothing to draw.
    if (totalS === undefined) return { fromS: 0, toS: 0, totalS: 0, channels: [] };
    const from = fromS === undefined ? 0 : Math.max(0, firstAtOrAfter(timeS, fromS) - 1);
    const to = toS === undefined ? timeS.length : Math.min(timeS.length, firstAtOrAfter(timeS, toS) + 1);
    const level = pyramidLevelFor(to - from, bins);
    const channelSpans =
      level === undefined
        ? await this.logs.samples(logId, from, to)
        : await this.logs.extremes(logId, timeS.length, level, from, to);
    const bin = level === undefined ? 1 : PYRAMID_BINS[level]!;
    const start = Math.floor(from / bin) * bin;
    const timeAt = (k: number): number => timeS[Math.min(timeS.length - 1, start + k * bin + (bin >> 1))]!;
    const byName = new Map(channelSpans.map((logSpan) => [logSpan.name, logSpan]));
    return {
      fromS: fromS ?? 0,
      toS: toS ?? totalS,
      totalS,
      channels: CHANNEL_NAMES.flatMap((name) => {
        const logSpan = byName.get(name);
        return logSpan ? [drawChannel(name, logSpan.low, logSpan.high, timeAt, bins)] : [];
      }),
    };
  }

  private async clockOf(logId: string): Promise<Float64Array> {
    const kept = this.clocks.get(logId);
    if (kept) return kept;
    const column = await this.logs.wholeColumn(logId, 'time');
    const clock = column ? Float64Array.from(column) : new Float64Array();
    this.clocks.set(logId, clock);
    const [oldest] = this.clocks.keys();
    if (this.clocks.size > CLOCKS_KEPT && oldest !== undefined) this.clocks.delete(oldest);
    return clock;
  }
}
