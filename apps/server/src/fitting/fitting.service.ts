import { Injectable } from '@nestjs/common';
import type { z } from 'zod';
import { fittingSteps } from '@ebrix/core/bench';
import type {
  clockInputSchema,
  Fitting,
  fittingInputSchema,
  FittingStep,
  FittingSummary,
  FittingTemplate,
  saveFittingTemplateSchema,
} from '@ebrix/contract';
import { changedMeanwhile } from '../bench/parts.service.js';
import { Clock } from '../common/clock.js';
import { DomainError, notFound } from '../common/domain-error.js';
import { toFacts } from '../setups/revision-facts.js';
import { SetupRepository } from '../setups/setup.repository.js';
import { FittingRepository, type StoredFitting } from './fitting.repository.js';

@Injectable()
export class FittingService {
  constructor(
    private readonly fittings: FittingRepository,
    private readonly setups: SetupRepository,
    private readonly clock: Clock,
  ) {}

  async get(setupId: string): Promise<Fitting> {
    const stored = await this.stored(setupId);
    return this.toFitting(setupId, stored, stored?.steps ?? (await this.plannedSteps(setupId)));
  }

  /** Stores titles, order and notes as given; which clocks run is for `setClock` alone to say. */
  async save(setupId: string, { version, steps }: z.output<typeof fittingInputSchema>): Promise<Fitting> {
    const running = new Map((await this.stored(setupId))?.steps.map(({ id, runningSince }) => [id, runningSince]));
    await this.write(
      setupId,
      version,
      steps.map((step) => {
        const since = running.get(step.id) ?? null;
        return step.isDone
          ? stopped({ ...step, runningSince: since }, this.clock.now())
          : { ...step, runningSince: since };
      }),
    );
    return this.get(setupId);
  }

  /** Starts a step's clock and stops every other, or stops it. One pair of hands does one step at a time. */
  async setClock(setupId: string, { version, stepId, isRunning }: z.output<typeof clockInputSchema>): Promise<Fitting> {
    const { steps } = await this.get(setupId);
    if (!steps.some(({ id }) => id === stepId)) throw notFound('This step');
    const now = this.clock.now();
    await this.write(
      setupId,
      version,
      steps.map((step) => {
        if (step.id !== stepId || !isRunning) return stopped(step, now);
        return step.runningSince === null ? { ...step, isDone: false, runningSince: now.toISOString() } : step;
      }),
    );
    return this.get(setupId);
  }

  async summaries(): Promise<FittingSummary[]> {
    const now = this.clock.now();
    const fittings = await this.fittings.list();
    const setups = new Map((await this.setups.list()).map((setup) => [setup.id, setup]));
    return fittings
      .map(({ setupId, steps }): FittingSummary => {
        const setup = setups.get(setupId)!;
        const rated = steps.filter((step) => step.difficulty !== null);
        const hardest = [...rated].sort((a, b) => b.difficulty! - a.difficulty!)[0];
        return {
          setupId,
          setupName: setup.name,
          kitName: setup.revisions[0]!.kit?.name ?? 'No kit',
          steps: steps.length,
          done: steps.filter(({ isDone }) => isDone).length,
          elapsedS: steps.reduce((sum, step) => sum + stopped(step, now).elapsedS, 0),
          hardest: hardest ? { title: hardest.title, difficulty: hardest.difficulty! } : null,
          troubles: steps.filter(({ trouble }) => trouble !== '').length,
          tools: [...new Set(steps.flatMap(({ tools }) => tools))].sort(),
        };
      })
      .sort((a, b) => a.setupName.localeCompare(b.setupName));
  }

  templates(): Promise<FittingTemplate[]> {
    return this.fittings.templates();
  }

  async saveTemplate(template: z.output<typeof saveFittingTemplateSchema>): Promise<FittingTemplate[]> {
    const isSaved = await this.fittings.saveTemplate(template);
    const templates = await this.fittings.templates();
    if (isSaved) return templates;
    throw new DomainError(
      'changed-meanwhile',
      `A template “${template.name}” is there that this window has not seen as it is now. Save once more to replace it, or take another name.`,
      templates,
    );
  }

  async removeTemplate(id: string): Promise<FittingTemplate[]> {
    if ((await this.fittings.deleteTemplate(id)) === 0) throw notFound('This template');
    return this.fittings.templates();
  }

  private async stored(setupId: string): Promise<StoredFitting | undefined> {
    return (await this.fittings.list(setupId))[0];
  }

  private async plannedSteps(setupId: string): Promise<FittingStep[]> {
    const [setup] = await this.setups.list(setupId);
    if (!setup) throw notFound('This setup');
    return fittingSteps(toFacts(setup.revisions[0]!)).map((step) => ({
      ...step,
      tools: [...step.tools],
      isDone: false,
      elapsedS: 0,
      difficulty: null,
      trouble: '',
      cure: '',
      runningSince: null,
    }));
  }

  private async write(setupId: string, version: number, steps: readonly FittingStep[]): Promise<void> {
    if (new Set(steps.map(({ id }) => id)).size !== steps.length)
      throw new DomainError('invalid-request', 'Two steps have the same id.');
    if (!(await this.fittings.save(setupId, version, steps))) throw changedMeanwhile(await this.get(setupId));
  }

  private toFitting(setupId: string, stored: StoredFitting | undefined, steps: readonly FittingStep[]): Fitting {
    return {
      setupId,
      version: stored?.version ?? 0,
      updatedAt: stored?.updatedAt.toISOString() ?? null,
      steps: [...steps],
      now: this.clock.now().toISOString(),
    };
  }
}

/** A step whose clock does not run, the time until now added. */
function stopped(step: FittingStep, now: Date): FittingStep {
  if (step.runningSince === null) return step;
  const ranS = Math.max(0, (now.getTime() - new Date(step.runningSince).getTime()) / 1000);
  return { ...step, elapsedS: step.elapsedS + ranS, runningSince: null };
}
