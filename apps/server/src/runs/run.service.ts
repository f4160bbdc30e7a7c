import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { channelDefinition, CHANNEL_NAMES } from '@ebrix/core/logs';
import { DECIDING_FIGURE_KEYS, DECIDING_FIGURES } from '@ebrix/core/compare';
import { SETTABLE_SPANS, TEST_KINDS, outlyingEffort, type FigureWarning, type TestKind } from '@ebrix/core/analysis';
import type {
  CorrectionInput,
  FigureDto,
  RepeatedFigure,
  RidingChange,
  RunAssignment,
  RunDetail,
  RunListPage,
  RunQuery,
  RunSummary,
  Split,
  SplitRun,
  Strip,
} from '@ebrix/contract';
import { changedMeanwhile } from '../bench/parts.service.js';
import { DomainError, notFound } from '../common/domain-error.js';
import { KNEX } from '../database/database.module.js';
import { AnalysisRequests } from '../jobs/analysis-requests.js';
import { LogRepository } from './log.repository.js';
import { RunFigureRepository } from './run-figure.repository.js';
import { RunRepository } from './run.repository.js';
import type { StoredRun } from './select-run.js';
import { assignmentsOfParts } from './assignment-row.js';
import { SplitService } from './split.service.js';
import { StripService } from './strip.service.js';

/** Mean power of the rider: what makes runs alike or not. */
const EFFORT = 'meanRiderPower';
/** What Peukert's exponent is worked out from, beside the figures that decide. */
const DISCHARGE = ['capacity', 'meanDischargeCurrent'];
/** What a claim is held against beside those, each of the kind of test that it is read from. */
const CLAIMED: Readonly<Record<string, TestKind>> = { chargeTime: 'battery', meanPower: 'hill-climb' };
const REPEATED_FIGURES = [
  ...new Set([
    ...DISCHARGE,
    ...Object.keys(CLAIMED),
    ...DECIDING_FIGURE_KEYS,
    ...Object.values(TEST_KINDS).map(({ headline }) => headline),
  ]),
];
const UNIQUE_VIOLATION = '23505';
/** Rounding of an edge that was dragged, s. */
const EDGE_S = 0.5;

function requireWithin(span: { readonly fromS: number; readonly toS: number }, fromS: number, toS: number): void {
  if (span.fromS < fromS - EDGE_S || span.toS > toS + EDGE_S)
    throw new DomainError(
      'invalid-request',
      `The part from ${span.fromS.toFixed(1)} to ${span.toS.toFixed(1)} s does not lie in this run, ${fromS.toFixed(1)} to ${toS.toFixed(1)} s.`,
    );
}

@Injectable()
export class RunService {
  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly runs: RunRepository,
    private readonly figures: RunFigureRepository,
    private readonly logs: LogRepository,
    private readonly strips: StripService,
    private readonly splits: SplitService,
    private readonly requests: AnalysisRequests,
  ) {}

  list(query: RunQuery): Promise<RunListPage> {
    return this.runs.list(query);
  }

  /** A figure is shown of the tests that it is read from: a consumption between two top-speed passes tells nothing. */
  async figuresOfSetup(setupId: string): Promise<RepeatedFigure[]> {
    const figures = await this.figures.repeated(setupId, REPEATED_FIGURES);
    const kindsOf = DECIDING_FIGURES as Readonly<Record<string, { readonly kinds: readonly TestKind[] } | undefined>>;
    return figures.filter(({ key, testKind }) => {
      if (CLAIMED[key]) return CLAIMED[key] === testKind;
      const kinds = kindsOf[key]?.kinds;
      return kinds ? kinds.includes(testKind) : TEST_KINDS[testKind].headline === key || DISCHARGE.includes(key);
    });
  }

  async get(id: string): Promise<RunDetail> {
    const { summary, logId: _logId, channelNames, ...rest } = await this.stored(id);
    const effort = await this.effortFlag(summary, rest.allFigures);
    const trials = await this.database('trial_setup as ts')
      .join('trial as t', 't.id', 'ts.trial_id')
      .select<{ id: string; question: string }[]>('t.id', 't.question')
      .where('ts.revision_id', summary.setup.revisionId)
      .andWhereRaw('(t.course_id is null or t.course_id = ?)', [summary.course.id]);
    return {
      ...summary,
      ...rest,
      warnings: effort ? [...rest.warnings, effort] : rest.warnings,
      trials,
      channels: CHANNEL_NAMES.filter((name) => channelNames.includes(name)).map((name) => {
        const { label, fieldUnit } = channelDefinition(name);
        return { name, label, unit: fieldUnit };
      }),
    };
  }

  /** Whether the rider gave much more or less than in the other runs of this course and kind. */
  private async effortFlag(run: RunSummary, figures: readonly FigureDto[]): Promise<FigureWarning | undefined> {
    const own = figures.find(({ key }) => key === EFFORT);
    if (!own) return undefined;
    const others = await this.figures.othersLike(run, EFFORT);
    return outlyingEffort(own.value, others);
  }

  async strip(id: string, bins: number, fromS?: number, toS?: number): Promise<Strip> {
    if (fromS !== undefined && toS !== undefined && toS <= fromS)
      throw new DomainError('invalid-request', 'The end of the part must lie after its start.');
    return this.strips.stripOf(await this.logOf(id), bins, fromS, toS);
  }

  async exclude(id: string, version: number, reason: string): Promise<RunDetail> {
    const current = await this.get(id);
    if (current.exclusion) throw new DomainError('wrong-state', 'This run is left out already.');
    return this.finishChange(id, await this.runs.exclude(id, version, reason));
  }

  async include(id: string, version: number): Promise<RunDetail> {
    return this.finishChange(id, await this.runs.include(id, version));
  }

  async assign(id: string, version: number, assignment: RunAssignment): Promise<RunDetail> {
    return this.changeAndAnalyse(id, (transaction) => this.runs.assign(id, version, assignment, transaction));
  }

  /** Takes runs out of all lists and verdicts; nothing of them is lost. */
  async delete(runIds: readonly string[]): Promise<{ changed: number }> {
    const deleted = await this.database.transaction((transaction) => this.runs.delete(runIds, transaction));
    return { changed: deleted.length };
  }

  async restore(runIds: readonly string[]): Promise<{ changed: number }> {
    try {
      const restored = await this.database.transaction((transaction) => this.runs.restore(runIds, transaction));
      return { changed: restored.length };
    } catch (error) {
      if ((error as { code?: string }).code !== UNIQUE_VIOLATION) throw error;
      throw new DomainError(
        'already-there',
        'Another run was made of the same part of this log meanwhile. Delete that one first; nothing was changed.',
      );
    }
  }

  /** The runs that one run turns out to hold. Fails: a log problem when it has no log. */
  async proposeSplit(id: string, courseId: string | null): Promise<Split> {
    const { summary, logId, logSpan } = await this.stored(id);
    const log = (await this.logs.file(logId))!;
    const { runs, ...split } = await this.splits.propose(log.bytes, log.mapping, courseId ?? summary.course.id);
    const [fromS, toS] = logSpan ? [logSpan.fromS, logSpan.toS] : [0, Infinity];
    return { ...split, runs: runs.filter((run) => run.fromS >= fromS - EDGE_S && run.toS <= toS + EDGE_S) };
  }

  /** Makes several runs of one, which is deleted; all or nothing. Fails: `invalid-request` outside the run, `changed-meanwhile`. */
  async split(id: string, { version, parts }: SplitRun): Promise<{ runIds: string[] }> {
    const run = await this.get(id);
    if (run.deletedAt) throw new DomainError('wrong-state', 'This run was deleted: bring it back first.');
    const [fromS, toS] = run.logSpan ? [run.logSpan.fromS, run.logSpan.toS] : [0, run.durationS];
    for (const { logSpan } of parts) requireWithin(logSpan, fromS, toS);
    const runIds = await this.database.transaction(async (transaction) => {
      const whole = await this.runs.lockAssignment(id, version, transaction);
      if (!whole) return undefined;
      await this.runs.delete([id], transaction);
      const made: string[] = [];
      for (const assignment of assignmentsOfParts(whole, parts)) {
        const runId = await this.runs.insertPartOf(id, assignment, transaction);
        await this.requests.analyse({ id: runId }, transaction);
        made.push(runId);
      }
      return made;
    });
    if (!runIds) throw changedMeanwhile(await this.get(id));
    return { runIds };
  }

  /** How runs were ridden, for many at once. Rider, logger, weather, wheel, payload and laps go into figures, which are then worked out again. */
  async changeRiding(change: RidingChange): Promise<{ changed: number }> {
    const { riderId, loggerId, outingId, wheelFactor } = change;
    const isComputed = [riderId, loggerId, outingId, wheelFactor, change.riding.payloadKg, change.riding.laps].some(
      (given) => given !== undefined,
    );
    const changed = await this.database.transaction(async (transaction) => {
      const ids = await this.runs.changeRiding(change, transaction);
      if (isComputed) for (const id of ids) await this.requests.analyse({ id }, transaction);
      return ids;
    });
    return { changed: changed.length };
  }

  /** Sets the spans that figures rest on. Fails: `invalid-request` outside the log or of a kind that cannot be set. */
  async correct(id: string, { version, spans, what }: CorrectionInput): Promise<RunDetail> {
    const { logSpan, ...run } = await this.get(id);
    const [fromS, toS] = logSpan ? [logSpan.fromS, logSpan.toS] : [0, run.durationS];
    for (const span of spans) {
      if (!SETTABLE_SPANS.has(span.kind))
        throw new DomainError('invalid-request', `A ${span.kind} is what the log shows: it cannot be set.`);
      requireWithin(span, fromS, toS);
    }
    return this.changeAndAnalyse(id, (transaction) => this.runs.correct(id, version, spans, what, transaction));
  }

  async undoCorrection(id: string, version: number): Promise<RunDetail> {
    const { corrections } = await this.get(id);
    if (!corrections.some(({ undoneAt }) => undoneAt === null))
      throw new DomainError('wrong-state', 'No correction of this run is left to be undone.');
    return this.changeAndAnalyse(id, (transaction) => this.runs.undoCorrection(id, version, transaction));
  }

  async file(id: string): Promise<{ fileName: string; bytes: Buffer }> {
    const file = await this.logs.file(await this.logOf(id));
    if (!file) throw notFound('The log of this run');
    return file;
  }

  private async logOf(id: string): Promise<string> {
    const logId = await this.runs.findLogOf(id);
    if (!logId) throw notFound('This run');
    return logId;
  }

  private async stored(id: string): Promise<StoredRun> {
    const run = await this.runs.find(id);
    if (!run) throw notFound('This run');
    return run;
  }

  /** The change and the request for new figures stand or fall together. */
  private async changeAndAnalyse(id: string, change: (transaction: Knex) => Promise<boolean>): Promise<RunDetail> {
    const isChanged = await this.database.transaction(async (transaction) => {
      if (!(await change(transaction))) return false;
      await this.requests.analyse({ id }, transaction);
      return true;
    });
    return this.finishChange(id, isChanged);
  }

  private async finishChange(id: string, isChanged: boolean): Promise<RunDetail> {
    const run = await this.get(id);
    if (!isChanged) throw changedMeanwhile(run);
    return run;
  }
}
