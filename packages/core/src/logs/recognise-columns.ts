import { UNITS, type UnitName } from '../units/index.js';
import { CHANNELS, channelDefinition, type ChannelName } from './channels.js';
import type { CsvDialect } from './csv-dialect.js';
import { readHeader } from './header-vocabulary.js';
import type { MappingQuestion } from './log-problem.js';
import type { ColumnMapping, LogMapping } from './mapping.js';
import { parseNumber } from './parse-number.js';
import { findTimeFormat } from './parse-time.js';

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
    return recogniseChannel(header, index, meaning, cells, { unit, unknownUnit }, decimal, questions);
  });
  askAboutDuplicates(columns, questions);
  return { mapping: { columns, ...(dialect.decimal && { decimal: dialect.decimal }) }, questions };
}

function recogniseTime(
  header: string,
  index: number,
  cells: readonly string[],
  unit: UnitName | undefined,
  decimal: '.' | ',',
  questions: MappingQuestion[],
): ColumnMapping {
  const timeFormat = findTimeFormat(cells, decimal);
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
    if (values.some((value) => value > 1.5)) return { header, channel, unit: '%' };
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
