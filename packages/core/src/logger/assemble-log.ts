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
 * The log of a ride from the stored lines of its session, as JSON lists without spaces, one a line: late lines in their place by the logger's own time, each
 * number once, cut to `fromS` … `toS` of the logger's clock. Undefined when no line lies there.
 * The file is an ordinary CSV with units in its header; the mapping says the same for the import. Values keep the digits they were stored with.
 */
export function assembleLog(
  hello: Pick<LoggerHello, 'channels' | 'units'>,
  chunks: readonly string[],
  fromS = -Infinity,
  toS = Infinity,
): AssembledLog | undefined {
  const kept = linesWithin(chunks, hello.channels.length, fromS, toS);
  const order = orderOf(kept);
  const [first] = order;
  if (first === undefined) return undefined;
  const originS = kept.times[first]!;
  const headers = hello.channels.map((name, k) => `${channelDefinition(name).label} (${hello.units[k]!})`);
  const rows = order.map((k) => `${Math.round((kept.times[k]! - originS) * 1e4) / 1e4}${kept.values[k]!}`);
  return {
    csv: [['time (s)', ...headers].join(','), ...rows, ''].join('\n'),
    mapping: {
      decimal: '.',
      columns: [
        { header: 'time (s)', channel: 'time', unit: 's', timeFormat: 'number' },
        ...hello.channels.map((channel, k) => ({ header: headers[k]!, channel, unit: hello.units[k]! })),
      ],
    },
    samples: order.length,
    originS,
  };
}

/** Columns of the lines that lie within a span: numbers, seconds, and values as the row of the file has them, each with its comma before it. */
interface Lines {
  readonly numbers: number[];
  readonly times: number[];
  readonly values: string[];
}

/** An hour of a phone that feels its movement is a quarter of a million lines: they are cut where they stand, not made objects of. */
function linesWithin(chunks: readonly string[], width: number, fromS: number, toS: number): Lines {
  const lines: Lines = { numbers: [], times: [], values: [] };
  for (const chunk of chunks)
    for (const line of chunk.replaceAll('null', '').split('\n')) {
      if (line === '') continue;
      const afterNumber = line.indexOf(',');
      const afterTime = line.indexOf(',', afterNumber + 1);
      const time = Number(line.slice(afterNumber + 1, afterTime));
      if (!(time >= fromS && time <= toS)) continue;
      lines.numbers.push(Number(line.slice(1, afterNumber)));
      lines.times.push(time);
      lines.values.push(asRow(line.slice(afterTime, -1), width));
    }
  return lines;
}

const COMMA = 44;

/** Values of a line as cells, each after its comma; as many as there are channels. */
function asRow(values: string, width: number): string {
  let count = 0;
  for (let k = 0; k < values.length; k++) if (values.charCodeAt(k) === COMMA) count++;
  if (count === width) return values;
  if (count < width) return values + ','.repeat(width - count);
  return values
    .split(',')
    .slice(0, width + 1)
    .join(',');
}

/** Places of the lines by time, each number once, the line that came first. */
function orderOf({ numbers, times }: Lines): number[] {
  const order = numbers.map((_, k) => k);
  const isInOrder = numbers.every((n, k) => k === 0 || (n > numbers[k - 1]! && times[k]! >= times[k - 1]!));
  if (isInOrder) return order;
  const seen = new Set<number>();
  return order
    .filter((k) => !seen.has(numbers[k]!) && seen.add(numbers[k]!))
    .sort((a, b) => times[a]! - times[b]! || numbers[a]! - numbers[b]!);
}
