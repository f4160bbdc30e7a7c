import { Injectable } from '@nestjs/common';
import { channelDefinition, CHANNEL_NAMES, toCsv } from '@ebrix/core/logs';
import { convertUnit } from '@ebrix/core/units';
import type { RunQuery, RunSummary } from '@ebrix/contract';
import { notFound } from '../common/domain-error.js';
import { LogRepository } from './log.repository.js';
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
    const run = await this.repository.find(id);
    if (!run) throw notFound('This run');
    const names = CHANNEL_NAMES.filter((name) => run.channelNames.includes(name));
    return this.channelPieces(run.logId, names);
  }

  private async *channelPieces(logId: string, names: typeof CHANNEL_NAMES): AsyncGenerator<string> {
    const definitions = names.map((name) => channelDefinition(name));
    yield toCsv([['time (s)', ...definitions.map(({ label, fieldUnit }) => `${label} (${fieldUnit})`)]]);
    for (let from = 0; ; from += SAMPLES_PER_PIECE) {
      const spans = new Map(
        (await this.logs.samples(logId, from, from + SAMPLES_PER_PIECE)).map(({ name, low }) => [name, low]),
      );
      const time = spans.get('time');
      if (!time || time.length === 0) return;
      const columns = names.map((name) => spans.get(name));
      const rows = Array.from(time, (t, k): (string | number)[] => [
        t,
        ...definitions.map(({ storedUnit, fieldUnit }, c) =>
          Number(convertUnit(columns[c]?.[k] ?? NaN, storedUnit, fieldUnit).toPrecision(7)),
        ),
      ]);
      yield toCsv(rows);
    }
  }
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
