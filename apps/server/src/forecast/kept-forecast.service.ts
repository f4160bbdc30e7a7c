import { Injectable } from '@nestjs/common';
import type { KeptForecast, KeptForecastInput, RunSummary } from '@ebrix/contract';
import { changedMeanwhile } from '../bench/parts.service.js';
import { DomainError, notFound } from '../common/domain-error.js';
import { iso } from '../common/row.js';
import { RunFigureRepository } from '../runs/run-figure.repository.js';
import { RunRepository } from '../runs/run.repository.js';
import { KeptForecastRepository, type KeptRow } from './kept-forecast.repository.js';

/** A run's figures by the name that a forecast has for them, and what takes one into the other's unit. */
const RUN_FIGURES: Readonly<Record<string, readonly string[]>> = {
  time: ['movingTime', 'climbTime'],
  meanSpeed: ['meanMovingSpeed', 'meanSpeed'],
  minSpeed: ['minSpeed'],
  energyOut: ['energyOut'],
  netConsumption: ['netConsumption'],
  rangeWithReserve: ['rangeWithReserve'],
  rangeToCutoff: ['rangeToCutoff'],
  motorTemperaturePeak: ['peakTemperature'],
};

/** Forecasts kept until somebody rides them. */
@Injectable()
export class KeptForecastService {
  constructor(
    private readonly repository: KeptForecastRepository,
    private readonly runs: RunRepository,
    private readonly runFigures: RunFigureRepository,
  ) {}

  async list(): Promise<KeptForecast[]> {
    return this.toKept(await this.repository.list());
  }

  async keep(input: KeptForecastInput): Promise<KeptForecast> {
    return this.get(await this.repository.insert(input));
  }

  /** Fails: `not-found`; `wrong-state` for a run of another setup; `changed-meanwhile`. */
  async setAgainst(id: string, version: number, runId: string | null): Promise<KeptForecast> {
    const before = await this.get(id);
    if (runId !== null) {
      const [run] = await this.runs.summariesOf([runId]);
      if (!run || run.deletedAt !== null) throw notFound('The chosen run');
      if (run.setup.id !== before.setupId)
        throw new DomainError(
          'wrong-state',
          `That run was ridden with ${run.setup.name}, the forecast is for ${before.setupName}.`,
        );
    }
    const changed = await this.repository.setAgainst(id, version, runId);
    const current = await this.get(id);
    if (!changed) throw changedMeanwhile(current);
    return current;
  }

  /** Fails: `changed-meanwhile` where it is not the version that was seen. */
  async remove(id: string, version: number | undefined): Promise<void> {
    if (!(await this.repository.delete(id, version))) throw notFound('This forecast');
  }

  private async get(id: string): Promise<KeptForecast> {
    const [kept] = await this.toKept(await this.repository.list(id));
    if (!kept) throw notFound('This forecast');
    return kept;
  }

  private async toKept(rows: readonly KeptRow[]): Promise<KeptForecast[]> {
    const ids = rows.flatMap(({ run_id: runId }) => runId ?? []);
    const runs = new Map((await this.runs.summariesOf(ids)).map((run) => [run.id, run]));
    const values = new Map<string, Map<string, number>>();
    for (const key of new Set(Object.values(RUN_FIGURES).flat())) {
      const found = ids.length === 0 ? new Map<string, { value: number }>() : await this.runFigures.of(ids, key);
      values.set(key, new Map([...found].map(([id, { value }]) => [id, value])));
    }
    return rows.map((row) => ({
      id: row.id,
      version: row.version,
      title: row.title,
      setupId: row.setup_id,
      setupName: row.setup_name,
      courseId: row.course_id,
      question: row.question,
      figures: row.figures,
      at: iso(row.at),
      ridden: riddenOf(row, row.run_id === null ? undefined : runs.get(row.run_id), values),
    }));
  }
}

function riddenOf(
  { figures }: KeptRow,
  run: RunSummary | undefined,
  values: ReadonlyMap<string, ReadonlyMap<string, number>>,
): KeptForecast['ridden'] {
  if (!run) return null;
  return {
    runId: run.id,
    name: `${run.course.name}, ${run.fileName}`,
    date: run.outing.date,
    figures: figures.flatMap(({ key, interval95 }) => {
      const value = (RUN_FIGURES[key] ?? [])
        .map((name) => values.get(name)?.get(run.id))
        .find((found) => found !== undefined);
      if (value === undefined) return [];
      const [low, high] = interval95;
      return [{ key, value, interval95: [low, high] as [number, number], isInside: low <= value && value <= high }];
    }),
  };
}
