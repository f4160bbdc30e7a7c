import { channelDefinition, type LogMapping } from '../logs/index.js';
import type { LoggerHello } from './parse-line.js';

/** A stored line: its number, the logger's seconds, and its values as they were sent. */
export type StoredLine = readonly [n: number, t: number, ...values: (number | null)[]];

export interface AssembledLog {
  readonly csv: string;
  readonly mapping: LogMapping;
  readonly samples: number;
  /** Logger seconds at which the file's clock stands at 0. */
  readonly originS: number;
}

/**
 * The log of a ride from the stored lines of its session: late lines in their place by the logger's own time, each
 * number once, cut to `fromS` … `toS` of the logger's clock. Undefined when no line lies there.
 * The file is an ordinary CSV with units in its header; the mapping says the same for the import.
 */
export function assembleLog(
  hello: Pick<LoggerHello, 'channels' | 'units'>,
  lines: readonly StoredLine[],
  fromS = -Infinity,
  toS = Infinity,
): AssembledLog | undefined {
  const byNumber = new Map<number, StoredLine>();
  for (const line of lines)
    if (line[1] >= fromS && line[1] <= toS && !byNumber.has(line[0])) byNumber.set(line[0], line);
  const kept = [...byNumber.values()].sort((a, b) => a[1] - b[1] || a[0] - b[0]);
  const [first] = kept;
  if (!first) return undefined;
  const originS = first[1];
  const headers = hello.channels.map((name, k) => `${channelDefinition(name).label} (${hello.units[k]!})`);
  const rows = kept.map(([, t, ...values]) =>
    [Number((t - originS).toFixed(4)), ...hello.channels.map((_, k) => values[k] ?? '')].join(','),
  );
  return {
    csv: [['time (s)', ...headers].join(','), ...rows, ''].join('\n'),
    mapping: {
      decimal: '.',
      columns: [
        { header: 'time (s)', channel: 'time', unit: 's', timeFormat: 'number' },
        ...hello.channels.map((channel, k) => ({ header: headers[k]!, channel, unit: hello.units[k]! })),
      ],
    },
    samples: kept.length,
    originS,
  };
}
