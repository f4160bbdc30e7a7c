import { Inject, Injectable, Logger } from '@nestjs/common';
import type { Knex } from 'knex';
import { DomainError } from '../common/domain-error.js';
import { JobPool } from '../compute/compute-pool.js';
import { courseInputSchema, openRiding, type RidingDto } from '@ebrix/contract';
import { CourseService } from '../courses/course.service.js';
import { KNEX } from '../database/database.module.js';
import { ImportService } from '../imports/import.service.js';
import { OutingService } from '../outings/outing.service.js';
import { RunRepository } from '../runs/run.repository.js';
import { LOGGERS, RIDERS } from './bench-parts.js';
import { DemoBenchService } from './demo-bench.service.js';
import { DemoDecideService } from './demo-decide.service.js';
import { DemoForecastService } from './demo-forecast.service.js';
import { DemoLogbookService } from './demo-logbook.service.js';
import { DemoTrialsService, type DemoIds } from './demo-trials.service.js';
import {
  COURSES,
  OUTINGS,
  RIDES,
  SETUPS,
  type CourseKey,
  type DemoCourse,
  type OutingKey,
  type PlannedRide,
} from './scenario.js';
import { courseGpx } from './track-gpx.js';

const FIRST_SEED = 4100;
const POLL_MS = 100;
const PATIENCE_MS = 600_000;
const MARK = 'demo';
const MADE_UP = 'made-up';

/** Loads the Marrowby scenario through the same doors a tester uses; begun twice, it goes on where it was. */
@Injectable()
export class DemoService {
  private readonly logger = new Logger('demo');
  private progress: { done: number; total: number } | undefined;
  private problem: string | null = null;

  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly bench: DemoBenchService,
    private readonly courses: CourseService,
    private readonly outings: OutingService,
    private readonly imports: ImportService,
    private readonly runs: RunRepository,
    private readonly trials: DemoTrialsService,
    private readonly decisions: DemoDecideService,
    private readonly forecasts: DemoForecastService,
    private readonly logbook: DemoLogbookService,
    private readonly pool: JobPool,
  ) {}

  async state(): Promise<{
    isEmpty: boolean;
    loading: { done: number; total: number } | null;
    problem: string | null;
  }> {
    return { isEmpty: await this.isEmpty(), loading: this.progress ?? null, problem: this.problem };
  }

  /** Starts loading in the background. Fails: `not-empty`. */
  async begin(): Promise<void> {
    if (this.progress) return;
    if (!(await this.isEmpty()) && !(await this.isHalfLoaded()))
      throw new DomainError('not-empty', 'There is data already. The demo only goes into an empty installation.');
    this.progress = { done: 0, total: RIDES.length };
    this.problem = null;
    void this.load()
      .catch((error: unknown) => {
        this.problem =
          'The demo data could not be loaded in full; the server log says why. Start Ebrix again to go on.';
        this.logger.error(error instanceof Error ? (error.stack ?? error.message) : String(error));
      })
      .finally(() => (this.progress = undefined));
  }

  async beginIfWanted(): Promise<void> {
    if ((await this.isEmpty()) || (await this.isHalfLoaded())) await this.begin();
  }

  private async isEmpty(): Promise<boolean> {
    const { rows } = await this.database.raw<{ rows: { full: boolean }[] }>(
      `select exists (select from bike) or exists (select from setup) or exists (select from course) or exists (select from run)
         or exists (select from trial) or exists (select from outing) or exists (select from kit) or exists (select from rider)
         or exists (select from conversion) as full`,
    );
    return !rows[0]!.full;
  }

  private async isHalfLoaded(): Promise<boolean> {
    const row = await this.database<{ value: { state: string } }>('setting')
      .select('value')
      .where({ key: MARK } as object)
      .first();
    return row?.value.state === 'loading';
  }

  private async mark(state: 'loading' | 'loaded'): Promise<void> {
    await this.database('setting')
      .insert({ key: MARK, value: JSON.stringify({ state }) })
      .onConflict('key')
      .merge();
  }

  /** Which setups were made up: it goes with them into data packages, so that reports say so wherever they are written. */
  private async markMadeUp(): Promise<void> {
    const setups = await this.database('setup').select<{ id: string }[]>('id').orderBy('id');
    await this.database('setting')
      .insert({ key: MADE_UP, value: JSON.stringify({ setups: setups.map(({ id }) => id) }) })
      .onConflict('key')
      .merge();
  }

  private async load(): Promise<void> {
    await this.mark('loading');
    const ids = await this.makeIds();
    for (const [k, plan] of RIDES.entries()) {
      await this.ride(plan, k, ids);
      this.progress = { done: k + 1, total: RIDES.length };
    }
    await this.trials.load(ids);
    await this.markMadeUp();
    await this.forecasts.load();
    await this.logbook.load();
    await this.decisions.load();
    await this.mark('loaded');
  }

  private async makeIds(): Promise<DemoIds> {
    const { revisionOf, riders, loggers } = await this.bench.load();
    const revisions = Object.fromEntries(Object.entries(SETUPS).map(([key, { name }]) => [key, revisionOf.get(name)!]));
    return {
      revisions: revisions as DemoIds['revisions'],
      courses: await this.ensureCourses(),
      outings: await this.ensureOutings(),
      rider: riders.get(RIDERS[0]!.name)!,
      loggers: LOGGERS.map(({ name }) => loggers.get(name)!),
    };
  }

  private async ensureCourses(): Promise<DemoIds['courses']> {
    const known = await this.courses.list();
    const ids: Partial<Record<CourseKey, string>> = {};
    for (const [key, { input }] of Object.entries(COURSES) as [CourseKey, (typeof COURSES)[CourseKey]][]) {
      const course =
        known.find(({ name }) => name === input.name) ?? (await this.courses.add(courseInputSchema.parse(input)));
      if (!course.track)
        await this.courses.setTrack(course.id, {
          bytes: new TextEncoder().encode(courseGpx(key)),
          fileName: `${key}-round.gpx`,
        });
      const { gates = [] }: DemoCourse = COURSES[key];
      if (gates.length > 0 && course.gates.length === 0) {
        const { version } = await this.courses.get(course.id);
        await this.courses.setGates(course.id, { version, gates: [...gates], recutRuns: true });
      }
      ids[key] = course.id;
    }
    return ids as DemoIds['courses'];
  }

  private async ensureOutings(): Promise<DemoIds['outings']> {
    const known = await this.outings.list();
    const ids: Partial<Record<OutingKey, string>> = {};
    for (const [key, input] of Object.entries(OUTINGS) as [OutingKey, (typeof OUTINGS)[OutingKey]][])
      ids[key] = (known.find(({ title }) => title === input.title) ?? (await this.outings.add(input))).id;
    return ids as DemoIds['outings'];
  }

  private async ride(plan: PlannedRide, k: number, ids: DemoIds): Promise<void> {
    const bytes = await this.pool.run('demoRide', { plan, seed: FIRST_SEED + k });
    const [file] = await this.imports.stage([
      { fileName: `${plan.test ?? 'ride'}-${String(k + 1).padStart(2, '0')}-${plan.setup}.csv`, bytes },
    ]);
    if (!file || file.status === 'refused')
      throw new Error(`demo ride ${k + 1} was refused: ${file?.problem?.message ?? ''}`);
    let runId = file.runId;
    if (file.status === 'staged') {
      await this.imports.start({
        items: [
          {
            importId: file.id,
            mapping: file.inspection!.mapping,
            profileName: null,
            clearanceWaiver: null,
            parts: [],
            assignment: {
              setupRevisionId: ids.revisions[plan.setup],
              courseId: ids.courses[plan.course],
              outingId: ids.outings[plan.outing],
              riderId: ids.rider,
              loggerId: ids.loggers[plan.course === 'hill' ? 1 : 0]!,
              testKind: plan.test ?? 'range',
              totalMassKg: SETUPS[plan.setup].bikeMassKg + 78 + 18,
              emptied: plan.emptied ?? false,
              gauge: plan.gauge ?? null,
              ruleOfThumbWhPerKm: null,
              notes: '',
              riding: ridingOf(plan),
              tyrePressureBar: null,
              perceivedEffort: null,
              wheelFactor: null,
              isPartWay: false,
              direction: 1,
              slotId: null,
              manualReadings: null,
              logSpan: null,
            },
          },
        ],
      });
      runId = await this.waitFor(file.id);
    }
    await this.imports.discard(file.id);
    const run = await this.runs.find(runId!);
    if (plan.excludedBecause && run && !run.summary.exclusion)
      await this.runs.exclude(runId!, run.summary.version, plan.excludedBecause);
  }

  private async waitFor(importId: string): Promise<string> {
    const until = Date.now() + PATIENCE_MS;
    while (Date.now() < until) {
      const { status, runId, problem } = (await this.imports.find(importId))!;
      if (runId !== null) return runId;
      if (status === 'failed') throw new Error(problem?.message ?? 'the import failed');
      await new Promise((resolve) => setTimeout(resolve, POLL_MS));
    }
    throw new Error('the import of a demo ride did not end');
  }
}

/** Rounds and climbs are ridden with steady pedalling at level 3, unless the scenario says otherwise; other tests each in their way. */
function ridingOf({ riding, test }: PlannedRide): RidingDto {
  const { riderW: _riderW, ...said } = riding ?? {};
  const usual = test === undefined || test === 'hill-climb' ? { way: 'steady' as const, level: '3' } : {};
  return { ...openRiding, ...usual, ...said };
}
