import { CHANNELS, channelDefinition, type ChannelName } from '../logs/index.js';
import { isUnitName, UNITS, type UnitName } from '../units/index.js';

/** What a logger says first: who it is, which session this is, and what its samples hold. */
export interface LoggerHello {
  /** Name or identifier of the logger on the bench. */
  readonly logger: string;
  /** Shows that it is this logger; null where none was sent. */
  readonly secret: string | null;
  /** Chosen by the logger; the same after a reconnect, new after a restart that lost its counting. */
  readonly session: string;
  readonly channels: readonly ChannelName[];
  /** One for each channel. */
  readonly units: readonly UnitName[];
  /** Logger seconds per second of the world: above 1 only for a simulated logger that rides faster than time. */
  readonly pace: number;
}
export interface LoggerSample {
  /** Running number of the line within the session, from 0. */
  readonly n: number;
  /** Seconds of the logger's own clock. */
  readonly t: number;
  /** One for each channel of the hello, in its unit; NaN where none was sent. */
  readonly values: readonly number[];
}
export type LoggerLine =
  | { readonly kind: 'hello'; readonly hello: LoggerHello }
  | { readonly kind: 'sample'; readonly sample: LoggerSample }
  | { readonly kind: 'bye' }
  | { readonly kind: 'empty' }
  | { readonly kind: 'bad'; readonly code: BadLineCode; readonly reason: string };
export type BadLineCode =
  | 'too-long'
  | 'not-json'
  | 'bad-hello'
  | 'no-hello'
  | 'bad-number'
  | 'bad-time'
  | 'too-many-values'
  | 'unknown';

export const LOGGER_LIMITS = {
  /** Characters of one line. */
  lineLength: 4096,
  channels: 32,
  /** Lines in one HTTP request. */
  linesPerRequest: 20_000,
  highestNumber: 2 ** 31 - 1,
  /** Logger seconds; many clocks count from 1970 once a satellite has set them. */
  longestTimeS: 10_000_000_000,
  fastestPace: 60,
} as const;

const bad = (code: BadLineCode, reason: string): LoggerLine => ({ kind: 'bad', code, reason });

/**
 * One line of the logger protocol (docs/logger-protocol.md). Never throws: what cannot be used comes back as `bad` with the mend.
 * `hello` is what the session said first; samples need it, because they may be sent as bare lists in its order.
 */
export function parseLoggerLine(text: string, hello: LoggerHello | undefined): LoggerLine {
  if (text.length > LOGGER_LIMITS.lineLength)
    return bad('too-long', `The line has ${text.length} characters; at most ${LOGGER_LIMITS.lineLength} are read.`);
  if (text.trim() === '') return { kind: 'empty' };
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    return bad('not-json', 'The line is not JSON. Send one JSON value per line, ended by a line feed.');
  }
  if (Array.isArray(value)) return parseList(value, hello);
  if (typeof value !== 'object' || value === null)
    return bad('unknown', 'A line is an object ({"n":0,"t":0.0,…}) or a list ([0,0.0,…]).');
  const line = value as Record<string, unknown>;
  if ('hello' in line) return parseHello(line['hello']);
  if (line['bye'] === true) return { kind: 'bye' };
  if ('n' in line || 't' in line) return parseObject(line, hello);
  return bad('unknown', 'The line is neither hello, sample nor bye.');
}

function parseHello(value: unknown): LoggerLine {
  if (typeof value !== 'object' || value === null) return bad('bad-hello', 'hello must be an object.');
  const { protocol, logger, session, channels, units = {}, pace = 1, secret = null } = value as Record<string, unknown>;
  if (protocol !== 1) return bad('bad-hello', 'hello.protocol must be 1: this is the only version there is.');
  if (typeof logger !== 'string' || logger.trim() === '' || logger.length > 80)
    return bad('bad-hello', 'hello.logger must be the name or the identifier of a logger on the bench.');
  if (secret !== null && (typeof secret !== 'string' || secret.length > 200))
    return bad('bad-hello', 'hello.secret must be the text that the bench showed for this logger.');
  if (typeof session !== 'string' || !/^[\w.:-]{1,64}$/.test(session))
    return bad('bad-hello', 'hello.session must be 1 to 64 letters, digits, dots, colons or dashes.');
  if (!Array.isArray(channels) || channels.length === 0 || channels.length > LOGGER_LIMITS.channels)
    return bad('bad-hello', `hello.channels must list 1 to ${LOGGER_LIMITS.channels} channels.`);
  if (typeof pace !== 'number' || !(pace >= 0.1 && pace <= LOGGER_LIMITS.fastestPace))
    return bad('bad-hello', `hello.pace must lie between 0.1 and ${LOGGER_LIMITS.fastestPace}.`);
  if (typeof units !== 'object' || units === null || Array.isArray(units))
    return bad('bad-hello', 'hello.units must be an object: {"speed":"km/h"}.');
  const names: ChannelName[] = [];
  const resolvedUnits: UnitName[] = [];
  for (const name of channels as unknown[]) {
    if (typeof name !== 'string' || !Object.hasOwn(CHANNELS, name))
      return bad(
        'bad-hello',
        `"${String(name).slice(0, 40)}" is not a channel. Known: ${Object.keys(CHANNELS).join(', ')}.`,
      );
    if (names.includes(name as ChannelName)) return bad('bad-hello', `Channel "${name}" is in the list twice.`);
    const definition = channelDefinition(name as ChannelName);
    const unit = (units as Record<string, unknown>)[name] ?? defaultUnit(name as ChannelName);
    if (typeof unit !== 'string' || !isUnitName(unit) || UNITS[unit].dimension !== definition.dimension)
      return bad('bad-hello', `The unit of ${name} must be one of ${definition.units.join(', ')}.`);
    names.push(name as ChannelName);
    resolvedUnits.push(unit);
  }
  return {
    kind: 'hello',
    hello: { logger: logger.trim(), secret, session, channels: names, units: resolvedUnits, pace },
  };
}

/** The protocol's own unit of a channel: metres for distances, else the unit of the field. */
function defaultUnit(name: ChannelName): UnitName {
  const { fieldUnit } = channelDefinition(name);
  return fieldUnit === 'km' ? 'm' : fieldUnit;
}

function parseList(value: readonly unknown[], hello: LoggerHello | undefined): LoggerLine {
  if (!hello) return bad('no-hello', 'The first line must be hello.');
  const [n, t, ...rest] = value;
  if (rest.length > hello.channels.length)
    return bad('too-many-values', `${rest.length} values for ${hello.channels.length} channels.`);
  return toSample(
    n,
    t,
    hello.channels.map((_, k) => rest[k]),
  );
}

function parseObject(line: Record<string, unknown>, hello: LoggerHello | undefined): LoggerLine {
  if (!hello) return bad('no-hello', 'The first line must be hello.');
  return toSample(
    line['n'],
    line['t'],
    hello.channels.map((name) => line[name]),
  );
}

function toSample(n: unknown, t: unknown, values: readonly unknown[]): LoggerLine {
  if (typeof n !== 'number' || !Number.isInteger(n) || n < 0 || n > LOGGER_LIMITS.highestNumber)
    return bad('bad-number', 'n must be a whole number from 0, one more with every line.');
  if (typeof t !== 'number' || !(Math.abs(t) <= LOGGER_LIMITS.longestTimeS))
    return bad('bad-time', "t must be the seconds of the logger's clock.");
  return {
    kind: 'sample',
    // What is no number is a missing value, never a zero.
    sample: {
      n,
      t,
      values: values.map((value) => (typeof value === 'number' && Number.isFinite(value) ? value : NaN)),
    },
  };
}
