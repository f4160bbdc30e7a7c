import { Injectable } from '@nestjs/common';
import { planInputSchema, trialInputSchema } from '@ebrix/contract';
import { balancedOrder } from '@ebrix/core/planning';
import { JobPool } from '../compute/compute-pool.js';
import { RatingRepository } from '../experience/rating.repository.js';
import { NotebookService } from '../notebook/notebook.service.js';
import { PlanService } from '../plans/plan.service.js';
import { SetupRepository } from '../setups/setup.repository.js';
import { TrialService } from '../trials/trial.service.js';
import { NOTEBOOK_QUESTION } from './demo-notebook.js';
import { PLAN, PLANNED_TRIAL, RATINGS, TRIALS } from './scenario-trials.js';
import type { CourseKey, OutingKey, SetupKey } from './scenario.js';

/** Of what the scenario's rides and trials refer to. */
export interface DemoIds {
  readonly revisions: Record<SetupKey, string>;
  readonly courses: Record<CourseKey, string>;
  readonly outings: Record<OutingKey, string>;
  readonly rider: string;
  readonly loggers: readonly string[];
}

/** The scenario's questions, and a plan for the one that cannot tell yet. */
@Injectable()
export class DemoTrialsService {
  constructor(
    private readonly trials: TrialService,
    private readonly plans: PlanService,
    private readonly notebook: NotebookService,
    private readonly setups: SetupRepository,
    private readonly ratings: RatingRepository,
    private readonly pool: JobPool,
  ) {}

  async load(ids: DemoIds): Promise<void> {
    const there = new Set((await this.trials.list()).map(({ question }) => question));
    for (const { course, setups, ...trial } of TRIALS)
      if (!there.has(trial.question))
        await this.trials.add(
          trialInputSchema.parse({
            ...trial,
            courseId: ids.courses[course],
            arms: setups.map((arm) =>
              typeof arm === 'string'
                ? { revisionId: ids.revisions[arm] }
                : { revisionId: ids.revisions[arm.setup], riding: arm.riding },
            ),
          }),
        );
    await this.planHillTrial(ids);
    await this.bringNotebook(ids.courses.level);
    await this.askRiders(ids);
  }

  private async askRiders(ids: DemoIds): Promise<void> {
    const setupOf = new Map(
      (await this.setups.list()).flatMap(({ id, revisions }) => revisions.map((one): [string, string] => [one.id, id])),
    );
    const [first] = RATINGS;
    if ((await this.ratings.ofSetup(setupOf.get(ids.revisions[first!.setup])!)).length > 0) return;
    for (const { setup, ...rating } of RATINGS)
      await this.ratings.insert({ ...rating, revisionId: ids.revisions[setup] });
  }

  /** A page of a notebook, and the question that it answers; known by its content when the demo goes on where it was. */
  private async bringNotebook(courseId: string): Promise<void> {
    if ((await this.trials.list()).some(({ question }) => question === NOTEBOOK_QUESTION)) return;
    const page = await this.pool.run('demoNotebook', {});
    const known = await this.setups.list();
    const setups = page.setups.map((setup) => {
      const there = known.find(({ name }) => name === setup.written);
      return there ? { ...setup, sketch: null, revisionId: there.revisions[0]!.id } : setup;
    });
    const { setups: stored } = await this.notebook.store({ ...page, setups });
    await this.trials.add(
      trialInputSchema.parse({
        question: NOTEBOOK_QUESTION,
        decidingFigure: 'netConsumption',
        smallestDifference: { kind: 'relative', value: 0.1 },
        courseId,
        arms: stored.map(({ revisionId }) => ({ revisionId })),
        heldRiding: { way: 'steady', level: '3' },
        // The stronger hub is the faster one, and each conversion made a bike of its own.
        meantToDiffer: ['bike', 'meanSpeed'],
        notes:
          'Without a logger: trip, bars, volts at rest and the church clock, typed in from one page of a notebook.',
      }),
    );
  }

  /** The trial that cannot tell yet has a plan for the runs that are still to be ridden. */
  private async planHillTrial(ids: DemoIds): Promise<void> {
    const trial = (await this.trials.list()).find(({ question }) => question === PLANNED_TRIAL);
    if (!trial || (await this.plans.get(trial.id)) !== null) return;
    const input = planInputSchema.parse({
      ...PLAN,
      tests: [{ testKind: 'range', courseId: ids.courses.hill, level: '3' }],
    });
    const order = balancedOrder({
      setups: trial.setups.length,
      rounds: input.runsPerSetup,
      outings: input.outings,
      seed: input.seed,
    });
    await this.plans.save(trial.id, {
      version: null,
      input,
      why: null,
      slots: order.flatMap((rounds, outing) =>
        rounds.flat().map((setup) => ({
          id: null,
          outing: outing + 1,
          revisionId: trial.setups[setup]!.revisionId,
          test: 0,
          direction: 1 as const,
        })),
      ),
    });
  }
}
