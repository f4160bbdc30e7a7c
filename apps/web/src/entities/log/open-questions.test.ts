import type { Inspection, MappingDto } from '@ebrix/contract';
import { openQuestions, resolvedMapping } from './ColumnMapping.js';

const mapping: MappingDto = {
  columns: [
    { header: 'time (s)', channel: 'time', unit: 's', timeFormat: 'number' },
    { header: 'speed', channel: 'speed' },
    { header: 'alt', channel: 'altitude' },
  ],
};
const inspection: Inspection = {
  format: 'csv',
  encoding: 'utf-8',
  delimiter: ',',
  mapping,
  preview: [],
  profile: null,
  startedAt: null,
  longGaps: [],
  questions: [
    { kind: 'unit', columns: [1], text: 'speed?', choices: ['km/h'], blocking: true },
    { kind: 'unit', columns: [2], text: 'altitude?', choices: ['m'], blocking: false },
  ],
};
const withColumn = (index: number, change: Partial<MappingDto['columns'][number]>): MappingDto => ({
  ...mapping,
  columns: mapping.columns.map((column, k) => (k === index ? { ...column, ...change } : column)),
});

describe('questions about a file', () => {
  it('are open until a unit is chosen or the column is left out', () => {
    expect(openQuestions(inspection, mapping).map(({ text }) => text)).toEqual(['speed?', 'altitude?']);
    expect(openQuestions(inspection, withColumn(1, { unit: 'km/h' })).map(({ text }) => text)).toEqual(['altitude?']);
    expect(openQuestions(inspection, withColumn(1, { channel: null })).map(({ text }) => text)).toEqual(['altitude?']);
  });
  it('that block nothing leave their column out when the file is read', () => {
    expect(resolvedMapping(inspection, withColumn(1, { unit: 'km/h' })).columns.map(({ channel }) => channel)).toEqual([
      'time',
      'speed',
      null,
    ]);
  });
  it('about two columns for one channel are settled when one of them goes', () => {
    const twice: Inspection = {
      ...inspection,
      questions: [{ kind: 'duplicate', columns: [1, 2], text: 'which?', choices: ['1', '2'], blocking: true }],
    };
    const both = withColumn(2, { channel: 'speed' });
    expect(openQuestions(twice, both)).toHaveLength(1);
    expect(openQuestions(twice, withColumn(2, { channel: null }))).toHaveLength(0);
  });
  it('about the order of a date, a sign and whose power it is are settled by a choice', () => {
    const asked: Inspection = {
      ...inspection,
      mapping: {
        columns: [
          { header: 'date time', channel: 'time' },
          { header: 'current', channel: 'current', unit: 'A' },
          { header: 'power', channel: null },
        ],
      },
      questions: [
        { kind: 'date-order', columns: [0], text: 'date?', choices: ['dmy', 'mdy'], blocking: true },
        { kind: 'sign', columns: [1], text: 'sign?', choices: ['1', '-1'], blocking: true },
        { kind: 'channel', columns: [2], text: 'whose?', choices: ['power', 'riderPower'], blocking: true },
      ],
    };
    const open = (...change: readonly Partial<MappingDto['columns'][number]>[]) =>
      openQuestions(asked, {
        columns: asked.mapping.columns.map((column, k) => ({ ...column, ...change[k] })),
      }).map(({ text }) => text);
    expect(open()).toEqual(['date?', 'sign?', 'whose?']);
    expect(open({ timeFormat: 'dmy' }, { sign: -1 }, { channel: 'riderPower', unit: 'W' })).toEqual([]);
    expect(open({}, { channel: null })).toEqual(['date?', 'whose?']);
  });
});
