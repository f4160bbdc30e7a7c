import { Injectable } from '@nestjs/common';
import { planInputSchema, trialInputSchema } from '@ebrix/contract';
import { balancedOrder } from '@ebrix/core/planning';
import { PlanService } from '../plans/plan.service.js';
import { TrialService } from '../trials/trial.service.js';
import { PLAN, PLANNED_TRIAL, TRIALS } from './scenario-trials.js';
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
