import { SaxesParser, type SaxesTagPlain } from 'saxes';
import { LOG_LIMITS } from './limits.js';
import { GrowingColumn } from './growing-column.js';
import { LogProblemError } from './log-problem.js';
import { parseIso } from './parse-time.js';
import type { ChannelColumns, ChannelName } from './channels.js';
import type { RawLog } from './raw-log.js';

/** Elements under a track point and the channel each one fills; extensions are known by their plain names. */
const POINT_ELEMENTS = new Map<string, ChannelName>([
  ['ele', 'altitude'],
  ['speed', 'speed'],
  ['hr', 'heartRate'],
  ['cad', 'cadence'],
  ['atemp', 'airTemperature'],
  ['heartrate', 'heartRate'],
  ['cadence', 'cadence'],
  ['temp', 'airTemperature'],
  ['temperature', 'airTemperature'],
  // A recorded track knows the rider's power, never the pack's.
  ['power', 'riderPower'],
  ['watts', 'riderPower'],
]);

/**
 * Reads the track points of a GPX 1.1 (or 1.0) file as one log.
 * Fails: `doctype-refused`, `bad-xml`, `too-deep`, `no-samples`, `too-many-samples`.
 */
export function readGpx(text: string): RawLog {
  const columns = new Map<ChannelName | 'time', GrowingColumn>();
  const column = (name: ChannelName | 'time'): GrowingColumn => {
    const known = columns.get(name);
    if (known) return known;
    const made = new GrowingColumn();
    columns.set(name, made);
    return made;
  };
  let point: Map<ChannelName | 'time', number> | undefined;
  let points = 0;
  let depth = 0;
  let content = '';
  const unreadable = new Map<ChannelName | 'time', { count: number; firstLine: number }>();
  const parser = new SaxesParser({ xmlns: false, position: true });
  const note = (channel: ChannelName | 'time'): void => {
    const seen = unreadable.get(channel) ?? { count: 0, firstLine: parser.line };
    unreadable.set(channel, { ...seen, count: seen.count + 1 });
  };

  parser.on('doctype', () => {
    throw new LogProblemError({
      code: 'doctype-refused',
      line: parser.line,
      message:
        'The file declares a document type, which a GPX track never needs and which can hide harm. It was not read.',
    });
  });
  parser.on('error', (error) => {
    throw new LogProblemError({
      code: 'bad-xml',
      line: parser.line,
      message: `The GPX file is damaged or cut off near line ${parser.line} (${plainReason(error.message)}). Export it again.`,
    });
  });
  parser.on('opentag', (tag: SaxesTagPlain) => {
    content = '';
    if (++depth > LOG_LIMITS.depth)
      throw new LogProblemError({
        code: 'too-deep',
        line: parser.line,
        message: `Near line ${parser.line} the elements of the file lie more than ${LOG_LIMITS.depth} deep in one another: this is no recorded track. Export it again.`,
      });
    if (localName(tag) !== 'trkpt') return;
    point = new Map();
    for (const [attribute, channel] of [
      ['lat', 'latitude'],
      ['lon', 'longitude'],
    ] as const) {
      const value = Number(tag.attributes[attribute] ?? NaN);
      const limit = channel === 'latitude' ? 90 : 180;
      if (Math.abs(value) <= limit) point.set(channel, value);
      else note(channel);
    }
  });
  parser.on('text', (chunk) => {
    if (point && content.length < 100) content += chunk;
  });
  parser.on('closetag', (tag: SaxesTagPlain) => {
    depth--;
    if (!point) return;
    const name = localName(tag);
    if (name === 'trkpt') {
      if (points >= LOG_LIMITS.samples)
        throw new LogProblemError({ code: 'too-many-samples', message: 'The track has too many points. Split it.' });
      for (const known of point.keys()) {
        if (columns.has(known)) continue;
        // A channel that starts later was missing before.
        const late = column(known);
        for (let k = 0; k < points; k++) late.push(NaN);
      }
      for (const [name, values] of columns) values.push(point.get(name) ?? NaN);
      points++;
      point = undefined;
    } else if (name === 'time') {
      const value = parseIso(content);
      if (Number.isNaN(value)) note('time');
      else point.set('time', value);
    } else {
      const channel = POINT_ELEMENTS.get(name.toLowerCase());
      if (!channel) return;
      const value = content.trim() === '' ? NaN : Number(content);
      if (Number.isFinite(value)) point.set(channel, value);
      else note(channel);
    }
  });
  parser.write(text).close();

  if (points === 0)
    throw new LogProblemError({
      code: 'no-samples',
      message: 'The GPX file holds no track points. Export the recorded track, not a route or waypoints.',
    });
  const epoch = columns.get('time')?.toArray();
  const first = epoch?.find((value) => !Number.isNaN(value));
  columns.delete('time');
  const channels: ChannelColumns = {};
  for (const [name, values] of columns) channels[name as ChannelName] = values.toArray();
  return {
    format: 'gpx',
    timeS:
      epoch && first !== undefined
        ? epoch.map((value) => value - first)
        : Float64Array.from({ length: points }, (_, k) => k),
    hasClock: first !== undefined,
    ...(first !== undefined && { startEpochS: first }),
    channels,
    unreadable: [...unreadable].map(([channel, seen]) => ({ channel, ...seen })),
    raggedRecords: 0,
    ignoredColumns: [],
  };
}

/** Extensions come under any prefix, declared or not: only what stands behind it counts. */
function localName({ name }: SaxesTagPlain): string {
  return name.slice(name.indexOf(':') + 1);
}

/** The parser's own words, without its position prefix. */
function plainReason(message: string): string {
  return message
    .replace(/^\d+:\d+:\s*/, '')
    .replace(/\.$/, '')
    .slice(0, 120);
}
