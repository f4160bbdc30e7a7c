import { UNITS, type UnitName } from '../units/index.js';
import { CHANNELS, channelDefinition, type ChannelName } from './channels.js';
import type { CsvDialect } from './csv-dialect.js';
import { readHeader } from './read-header.js';
import type { MappingQuestion } from './log-problem.js';
import type { ColumnMapping, LogMapping } from './mapping.js';
import { parseNumber } from './parse-number.js';
import { findDateOrder, findTimeFormat, isDayAlone, isDottedClock, parseDigitsDate } from './parse-time.js';

export interface Recognition {
  readonly mapping: LogMapping;
  readonly questions: readonly MappingQuestion[];
}

const TEMPERATURE_CHANNELS: readonly ChannelName[] = [
  'motorTemperature',
  'controllerTemperature',
  'batteryTemperature',
  'airTemperature',
];

/** What each column of a table is, and what must be asked because the file does not tell. */
export function recogniseColumns(dialect: CsvDialect): Recognition {
  const questions: MappingQuestion[] = [];
  const decimal = dialect.decimal ?? '.';
  if (!dialect.decimal)
    questions.push({
      kind: 'decimal',
      columns: [],
      text: 'In "1,234" and "1.234", is the mark a decimal or a thousands mark?',
      choices: [',', '.'],
      blocking: true,
    });
  const columns = dialect.header.map((header, index): ColumnMapping => {
    const { meaning, unit, unknownUnit } = readHeader(header);
    const cells = dialect.sample.map((record) => record[index] ?? '');
    if (meaning === undefined) return { header, channel: null };
    if (meaning === 'date') return { header, channel: 'date' };
    if (meaning === 'time') return recogniseTime(header, index, cells, unit, decimal, questions);
    if (meaning === 'temperature') {
      questions.push({
        kind: 'channel',
        columns: [index],
        text: `Which temperature is "${header}"?`,
        choices: TEMPERATURE_CHANNELS,
        blocking: false,
      });
      return { header, channel: null };
    }
    // A charge in per cent is what is left, not what was used.
    const channel = meaning === 'chargeCounter' && unit === '%' ? 'stateOfCharge' : meaning;
    return recogniseChannel(header, index, channel, cells, { unit, unknownUnit }, decimal, questions);
  });
  askAboutDuplicates(columns, questions);
  askAboutThousandths(dialect, columns, questions);
  const settled = askWhosePower(columns, questions);
  return { mapping: { columns: settled, ...(dialect.decimal && { decimal: dialect.decimal }) }, questions };
}

function recogniseTime(
  header: string,
  index: number,
  cells: readonly string[],
  unit: UnitName | undefined,
  decimal: '.' | ',',
  questions: MappingQuestion[],
): ColumnMapping {
  if (isDottedClock(cells)) return { header, channel: 'time', timeFormat: 'clock' };
  // A column of days alone tells the day, not the time of day, whatever it is called.
  if (cells.some((cell) => cell.trim() !== '') && cells.every((cell) => cell.trim() === '' || isDayAlone(cell)))
    return { header, channel: 'date' };
  const timeFormat = findTimeFormat(cells, decimal);
  if ((timeFormat === 'dmy' || timeFormat === 'mdy') && findDateOrder(cells) === undefined) {
    const [first = ''] = cells;
    questions.push({
      kind: 'date-order',
      columns: [index],
      text: `Which day is "${first.trim()}" in column "${header}": the ${dayOf(first, 'dmy')} or the ${dayOf(first, 'mdy')}?`,
      choices: ['dmy', 'mdy'],
      blocking: true,
    });
    return { header, channel: 'time' };
  }
  if (timeFormat && timeFormat !== 'number') return { header, channel: 'time', timeFormat };
  if (unit && UNITS[unit].dimension === 'time') return { header, channel: 'time', unit, timeFormat: 'number' };
  questions.push({
    kind: 'unit',
    columns: [index],
    text: `In which unit is the time in column "${header}"?`,
    choices: ['s', 'ms', 'min'],
    blocking: true,
  });
  return { header, channel: 'time', timeFormat: 'number' };
}

/** A day written out, so that both readings of it can be told apart. */
function dayOf(cell: string, order: 'dmy' | 'mdy'): string {
  return new Date(parseDigitsDate(cell, order) * 1000).toISOString().slice(0, 10);
}

function recogniseChannel(
  header: string,
  index: number,
  channel: ChannelName,
  cells: readonly string[],
  written: { unit: UnitName | undefined; unknownUnit: string | undefined },
  decimal: '.' | ',',
  questions: MappingQuestion[],
): ColumnMapping {
  const definition = channelDefinition(channel);
  if (written.unit && UNITS[written.unit].dimension === definition.dimension)
    return { header, channel, unit: written.unit };
  // `W` in brackets behind "voltage" is no unit of a voltage: asked like a missing one.
  const isUnclear = written.unit !== undefined || written.unknownUnit !== undefined;
  if (!isUnclear && definition.impliedUnit) return { header, channel, unit: definition.impliedUnit };
  if (!isUnclear && definition.dimension === 'fraction') {
    const values = cells.map((cell) => parseNumber(cell, decimal));
    // A gauge shows whole per cents; 51.4 under "battery" is as likely its volts.
    const isGauge = channel !== 'stateOfCharge' || values.every((value) => Number.isNaN(value) || value % 1 === 0);
    if (isGauge && values.some((value) => value > 1.5)) return { header, channel, unit: '%' };
  }
  questions.push({
    kind: 'unit',
    columns: [index],
    text: written.unknownUnit
      ? `The unit "${written.unknownUnit}" of ${definition.label} is not known. Which is it?`
      : `In which unit is ${definition.label} in column "${header}"?`,
    choices: definition.units,
    blocking: definition.essential === true,
  });
  return { header, channel };
}

function askAboutDuplicates(columns: readonly ColumnMapping[], questions: MappingQuestion[]): void {
  const byChannel = new Map<string, number[]>();
  columns.forEach(({ channel }, index) => {
    if (channel !== null) byChannel.set(channel, [...(byChannel.get(channel) ?? []), index]);
  });
  for (const [channel, indices] of byChannel) {
    if (indices.length < 2) continue;
    const name = channel in CHANNELS ? CHANNELS[channel as ChannelName].label : channel;
    questions.push({
      kind: 'duplicate',
      columns: indices,
      text: `${indices.length} columns look like ${name}: ${indices.map((k) => `"${columns[k]!.header}" (column ${k + 1})`).join(', ')}. Which one counts?`,
      choices: indices.map(String),
      blocking:
        channel === 'time' || (channel in CHANNELS && channelDefinition(channel as ChannelName).essential === true),
    });
  }
}

/** Words that say "power" and not whose: beside a cadence or a pulse it may as well be the rider's. */
const BARE_POWER = /^(power|watts?|p|leistung|puissance|potencia|potenza|vermogen)\b/i;
/** A power without volts and amps, beside what tells of a rider, is asked about; until then it is nobody's. */
function askWhosePower(columns: readonly ColumnMapping[], questions: MappingQuestion[]): readonly ColumnMapping[] {
  const has = (channel: ChannelName): boolean => columns.some((column) => column.channel === channel);
  const index = columns.findIndex(({ channel, header }) => channel === 'power' && BARE_POWER.test(header.trim()));
  if (index < 0 || has('voltage') || has('current') || !(has('cadence') || has('heartRate') || has('riderTorque')))
    return columns;
  questions.push({
    kind: 'channel',
    columns: [index],
    text: `Whose power is "${columns[index]!.header}": the battery's, or the rider's at the pedals?`,
    choices: ['power', 'riderPower'],
    blocking: true,
  });
  return columns.map((column, k) => (k === index ? { header: column.header, channel: null } : column));
}

/** No pack of a bike has a thousand volts: a header without unit over such numbers is in thousandths, and asked. */
const NO_PACK_V = 1000;
const NO_PACK_A = 400;
function askAboutThousandths(
  dialect: CsvDialect,
  columns: readonly ColumnMapping[],
  questions: MappingQuestion[],
): void {
  const typical = (index: number): number => {
    const values = dialect.sample
      .map((record) => Math.abs(parseNumber(record[index] ?? '', dialect.decimal ?? '.')))
      .filter((value) => !Number.isNaN(value))
      .sort((a, b) => a - b);
    return values[Math.floor(values.length / 2)] ?? 0;
  };
  const isSilent = (index: number): boolean => readHeader(columns[index]!.header).unit === undefined;
  const volts = columns.findIndex(({ channel, unit }) => channel === 'voltage' && unit === 'V');
  const amps = columns.findIndex(({ channel, unit }) => channel === 'current' && unit === 'A');
  const areVolts = volts >= 0 && isSilent(volts) && typical(volts) > NO_PACK_V;
  const areAmps = amps >= 0 && isSilent(amps) && (areVolts || typical(amps) > NO_PACK_A);
  const ask = (index: number): void => {
    const { label, units } = channelDefinition(columns[index]!.channel as ChannelName);
    questions.push({
      kind: 'unit',
      columns: [index],
      text: `In which unit is ${label} in column "${columns[index]!.header}"? Its numbers are too large for ${units[0]!}.`,
      choices: units,
      blocking: true,
    });
    delete (columns[index] as { unit?: UnitName }).unit;
  };
  if (areVolts) ask(volts);
  if (areAmps) ask(amps);
}
