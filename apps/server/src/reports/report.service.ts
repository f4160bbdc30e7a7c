import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { createHash } from 'node:crypto';
import type { z } from 'zod';
import { checkSetup } from '@ebrix/core/bench';
import { faultRate } from '@ebrix/core/life';
import type { Report, reportIssueSchema, ReportSpec, Trial } from '@ebrix/contract';
import { Clock } from '../common/clock.js';
import { notFound } from '../common/domain-error.js';
import { KNEX } from '../database/database.module.js';
import { CostService } from '../decide/cost.service.js';
import { UseService } from '../decide/use.service.js';
import { WeighUpService } from '../decide/weigh-up.service.js';
import { RatingRepository } from '../experience/rating.repository.js';
import { FittingRecordRepository } from '../fitting/fitting-record.repository.js';
import { FittingService } from '../fitting/fitting.service.js';
import { LifeService } from '../logbook/life.service.js';
import { OutingRepository } from '../outings/outing.repository.js';
import { PhotoRepository } from '../photos/photo.repository.js';
import { toFacts } from '../setups/revision-facts.js';
import { RunService } from '../runs/run.service.js';
import { SetupService } from '../setups/setup.service.js';
import { TrialService } from '../trials/trial.service.js';
import { buildReport } from './build-report.js';
import { changesBetween, type Section } from './report-model.js';
import { renderReport } from './render-report.js';
import type { ReportData, SetupOfReport } from './report-data.js';
import { ReportRepository } from './report.repository.js';

const PHOTOS_A_SETUP = 4;
/** Of all pictures together, so that the file stays small enough to be sent. */
const PHOTO_BYTES = 1_800_000;
const SHORT_FINGERPRINT = 16;

/** Puts reports together and issues them. */
@Injectable()
export class ReportService {
  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly reports: ReportRepository,
    private readonly trials: TrialService,
    private readonly setups: SetupService,
    private readonly costs: CostService,
    private readonly uses: UseService,
    private readonly weighUps: WeighUpService,
    private readonly ratings: RatingRepository,
    private readonly fittings: FittingService,
    private readonly records: FittingRecordRepository,
    private readonly outings: OutingRepository,
    private readonly photos: PhotoRepository,
    private readonly lives: LifeService,
    private readonly runs: RunService,
    private readonly clock: Clock,
  ) {}

  list(): Promise<Report[]> {
    return this.reports.list();
  }

  async htmlOf(id: string): Promise<string> {
    const html = await this.reports.htmlOf(id);
    if (html === undefined) throw notFound('This report');
    return html;
  }

  /** As it would be issued now; nothing is stored. */
  async preview(spec: ReportSpec): Promise<string> {
    const sections = buildReport(await this.gather(spec));
    return this.page(spec, sections, '', 'Preview, not issued', []);
  }

  /** Frozen with number, day and fingerprint. Fails: `not-found` for the trial, a use, or the report it follows. */
  async issue({ spec, by, follows }: z.output<typeof reportIssueSchema>): Promise<Report> {
    const before = follows === null ? [] : await this.reports.sectionsOf(follows);
    if (!before) throw notFound('The report that this one follows');
    const sections = buildReport(await this.gather(spec));
    const changes = follows === null ? [] : changesBetween(before, sections);
    const id = await this.reports.insert({
      spec,
      by,
      follows,
      sections,
      changes,
      fingerprint: fingerprintOf(sections),
      html: (number, edition) => {
        const signed = spec.form === 'public' && !spec.withNames ? '' : by;
        return this.page(spec, sections, signed, `Report ${number}, version ${edition}`, changes);
      },
    });
    const [issued] = await this.reports.list(id);
    return issued!;
  }

  private page(
    { title }: ReportSpec,
    sections: readonly Section[],
    by: string,
    number: string,
    changes: Report['changes'],
  ): string {
    const day = this.clock.now().toISOString().slice(0, 10);
    const fingerprint = fingerprintOf(sections).slice(0, SHORT_FINGERPRINT);
    return renderReport({ title, number, day, by, fingerprint, changes }, sections);
  }

  private async gather(spec: ReportSpec): Promise<ReportData> {
    const trial = await this.trials.get(spec.trialId);
    const revisionIds = [...new Set(trial.setups.map(({ revisionId }) => revisionId))];
    const [verdict, runs, ratings, outings, methods, setups, isMadeUp] = await Promise.all([
      this.trials.verdict(trial.id),
      this.trials.runsOf(trial.id),
      this.ratings.ofTrial(trial.id),
      this.outings.list(),
      this.methodsOf(trial),
      this.setupsOf(trial),
      this.isMadeUp(trial),
    ]);
    const uses = await Promise.all(spec.useIds.map((id) => this.uses.get(id)));
    const weighed = await Promise.all(
      uses.map(async (use) => ({
        use,
        answer: await this.weighUps.weighUp({
          use: { criteria: use.criteria, mustHaves: use.mustHaves },
          revisionIds,
        }),
      })),
    );
    return {
      spec,
      system: spec.units,
      tellsNames: spec.form !== 'public' || spec.withNames,
      trial,
      verdict,
      runs,
      setups,
      outings,
      weighed,
      ratings,
      methods,
      kitRates: await this.kitRates(setups),
      today: this.clock.now().toISOString().slice(0, 10),
      isMadeUp,
    };
  }

  private async kitRates(setups: readonly SetupOfReport[]): Promise<ReportData['kitRates']> {
    const kits = (await this.lives.fittedKits()).filter(({ km, isKept }) => km > 0 && isKept);
    const names = [...new Set(setups.flatMap(({ revision }) => revision.parts.kit?.name ?? []))];
    return names.flatMap((name) => {
      const own = kits.filter(({ groups }) => groups.kit === name);
      return own.length === 0 ? [] : [faultRate(name, own)];
    });
  }

  private async setupsOf(trial: Trial): Promise<SetupOfReport[]> {
    const costs = await this.costs.ofSetups(trial.setups.map(({ setupId }) => setupId));
    const summaries = await this.fittings.summaries();
    let left = PHOTO_BYTES;
    const found: SetupOfReport[] = [];
    for (const [k, { letter, name, setupId, revisionId }] of trial.setups.entries()) {
      const detail = await this.setups.get(setupId);
      const revision = detail.revisions.find(({ id }) => id === revisionId)!;
      const record = (await this.records.get(setupId))?.record;
      const elapsedS = summaries.find((one) => one.setupId === setupId)?.elapsedS ?? 0;
      const photos: { caption: string; data: string }[] = [];
      for (const photo of (await this.photos.listOf('setup', setupId)).slice(0, PHOTOS_A_SETUP)) {
        const bytes = await this.photos.findBytes(photo.id);
        if (!bytes || bytes.length > left) continue;
        left -= bytes.length;
        photos.push({ caption: photo.caption || name, data: `data:image/jpeg;base64,${bytes.toString('base64')}` });
      }
      found.push({
        letter,
        name,
        revision,
        checks: checkSetup(toFacts(revision), revision.marks),
        costs: costs[k]!,
        life: await this.lives.ofSetup(setupId),
        repeated: await this.runs.figuresOfSetup(setupId),
        fittingHours: elapsedS > 0 ? elapsedS / 3600 : null,
        difficulty: record?.ratedDifficulty ?? null,
        photos,
      });
    }
    return found;
  }

  private async methodsOf({ setups }: Trial): Promise<ReportData['methods']> {
    const { rows } = await this.database.raw<{ rows: { name: string; version: string; runs: number }[] }>(
      `select method_name as name, method_version as version, count(*)::int as runs from run
       where setup_revision_id = any(?) and deleted_at is null group by 1, 2 order by 1, 2`,
      [setups.map(({ revisionId }) => revisionId)],
    );
    return rows;
  }

  /** A setup of the demo is in it, wherever the demo was loaded. Installations of the version before marked themselves as a whole. */
  private async isMadeUp({ setups }: Trial): Promise<boolean> {
    const rows = await this.database('setting')
      .select<{ key: string; value: { setups?: string[] } }[]>('key', 'value')
      .whereIn('key', ['demo', 'made-up']);
    const known = rows.find(({ key }) => key === 'made-up')?.value.setups;
    return known ? setups.some(({ setupId }) => known.includes(setupId)) : rows.length > 0;
  }
}

function fingerprintOf(sections: readonly Section[]): string {
  return createHash('sha256').update(JSON.stringify(sections)).digest('hex');
}
