import { Injectable } from '@nestjs/common';
import { channelDefinition, CHANNEL_NAMES, toCsv, type ChannelName } from '@ebrix/core/logs';
import { convertUnit } from '@ebrix/core/units';
import type { RunQuery, RunSummary } from '@ebrix/contract';
import { notFound } from '../common/domain-error.js';
import { LogRepository } from './log.repository.js';
import { parquetOf } from './parquet.js';
import { RunRepository } from './run.repository.js';

const RUNS_PER_PIECE = 1000;
const SAMPLES_PER_PIECE = 20_000;
const FIGURES = { netConsumption: 'Wh/km', distance: 'km', meanMovingSpeed: 'km/h', rangeWithReserve: 'km' } as const;
const FIGURE_KEYS = Object.keys(FIGURES) as (keyof typeof FIGURES)[];

/** Tables for a spreadsheet, made piece by piece. */
@Injectable()
export class RunExportService {
  constructor(
    private readonly repository: RunRepository,
    private readonly logs: LogRepository,
  ) {}

  /** Runs as the list shows them, in its order. */
  async runs(query: RunQuery): Promise<AsyncIterable<string>> {
    const ids = await this.repository.idsOf(query);
    return this.runPieces(ids);
  }

  private async *runPieces(ids: readonly string[]): AsyncGenerator<string> {
    yield toCsv([
      [
        'date',
        'outing',
        'setup',
        'revision',
        'course',
        'file',
        'left out because',
        ...FIGURE_KEYS.flatMap((key) => [`${key} (${FIGURES[key]})`, `${key} standard uncertainty`]),
      ],
    ]);
    for (let from = 0; from < ids.length; from += RUNS_PER_PIECE) {
      const runs = await this.repository.summariesOf(ids.slice(from, from + RUNS_PER_PIECE));
      yield toCsv(runs.map(rowOf));
    }
  }

  /** Cleaned channels in field units; a missing sample is an empty cell. */
  async channels(id: string): Promise<AsyncIterable<string>> {
    const { logId, names } = await this.channelsOf(id);
    return this.channelPieces(logId, names);
  }

  /** The same as one Parquet file; a missing sample is null. */
  async parquetChannels(id: string): Promise<AsyncIterable<Uint8Array>> {
    const { logId, names } = await this.channelsOf(id);
    return parquetOf(headingsOf(names), this.samplePieces(logId, names));
  }

  private async channelsOf(id: string): Promise<{ logId: string; names: ChannelName[] }> {
    const run = await this.repository.find(id);
    if (!run) throw notFound('This run');
    return { logId: run.logId, names: CHANNEL_NAMES.filter((name) => run.channelNames.includes(name)) };
  }

  private async *channelPieces(logId: string, names: readonly ChannelName[]): AsyncGenerator<string> {
    yield toCsv([headingsOf(names)]);
    for await (const [time, ...columns] of this.samplePieces(logId, names))
      yield toCsv(Array.from(time!, (t, k) => [t, ...columns.map((column) => Number(column[k]!.toPrecision(7)))]));
  }

  /** Time and the channels in field units, some samples at a time; NaN where one is missing. */
  private async *samplePieces(logId: string, names: readonly ChannelName[]): AsyncGenerator<Float64Array[]> {
    const definitions = names.map((name) => channelDefinition(name));
    for (let from = 0; ; from += SAMPLES_PER_PIECE) {
      const spans = new Map(
        (await this.logs.samples(logId, from, from + SAMPLES_PER_PIECE)).map(({ name, low }) => [name, low]),
      );
      const time = spans.get('time');
      if (!time || time.length === 0) return;
      yield [
        Float64Array.from(time),
        ...names.map((name, c) => {
          const { storedUnit, fieldUnit } = definitions[c]!;
          const stored = spans.get(name);
          return Float64Array.from(time, (_, k) => convertUnit(stored?.[k] ?? NaN, storedUnit, fieldUnit));
        }),
      ];
    }
  }
}

function headingsOf(names: readonly ChannelName[]): string[] {
  return [
    'time (s)',
    ...names.map((name) => channelDefinition(name)).map(({ label, fieldUnit }) => `${label} (${fieldUnit})`),
  ];
}

function rowOf(run: RunSummary): (string | number)[] {
  return [
    run.outing.date,
    run.outing.title,
    run.setup.name,
    run.setup.revisionNumber,
    run.course.name,
    run.fileName,
    run.exclusion?.reason ?? '',
    ...FIGURE_KEYS.flatMap((key) => [run.figures[key]?.value ?? '', run.figures[key]?.standardUncertainty ?? '']),
  ];
}
