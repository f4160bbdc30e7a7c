import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import type { CandidateRun, RunConditions } from '@ebrix/core/compare';
import type { RunSummary } from '@ebrix/contract';
import { KNEX } from '../database/database.module.js';
import { RIDING_SELECTION, toRiding, type RidingColumns } from '../runs/assignment-row.js';

/** A run as a verdict sees it: whether and where it may count, and what it was ridden under. */
export interface TrialRun extends CandidateRun, RunConditions {
  readonly courseId: string;
  readonly testKind: RunSummary['testKind'];
  readonly perceivedEffort: number | null;
  readonly loggerId: string | null;
  readonly outing: { readonly id: string; readonly title: string; readonly date: string };
}

interface Row extends RidingColumns {
  id: string;
  revision_id: string;
  course_id: string;
  test_kind: TrialRun['testKind'];
  bike_id: string;
  outing_id: string;
  title: string;
  date: string;
  air_temperature_c: number | null;
  wind_mps: number | null;
  rider_id: string | null;
  rider_mass_kg: number | null;
  logger_id: string | null;
  direction: number;
  gauge: RunAssignmentGauge;
  tyre_pressure_bar: number | null;
  perceived_effort: number | null;
  is_simulated: boolean;
  is_excluded: boolean;
  is_mostly_estimated: boolean;
}
interface RunsAskedFor {
  readonly setups: readonly { readonly revisionId: string }[];
  readonly course: { readonly id: string } | null;
}
type RunAssignmentGauge = { start: number; bars: number } | null;

@Injectable()
export class TrialRunRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  /** All runs of some setup revisions, oldest outing first. */
  runsOf(revisionIds: readonly string[]): Promise<TrialRun[]> {
    return this.select((runs) => void runs.whereRaw('r.setup_revision_id = any(?)', [[...revisionIds]]));
  }

  /** Those that may belong to trials: of their setups, on their courses. */
  runsOfTrials(trials: readonly RunsAskedFor[]): Promise<TrialRun[]> {
    const [pairs, anywhere] = [new Map<string, [string, string]>(), new Set<string>()];
    for (const { setups, course } of trials)
      for (const { revisionId } of setups)
        if (course) pairs.set(`${revisionId} ${course.id}`, [revisionId, course.id]);
        else anywhere.add(revisionId);
    const [revisions, courses] = [[...pairs.values()].map(([id]) => id), [...pairs.values()].map(([, id]) => id)];
    return this.select(
      (runs) =>
        void runs.whereRaw(
          `r.id in (
            select a.id from run a join unnest(?::uuid[], ?::uuid[]) as asked(revision_id, course_id)
              on a.setup_revision_id = asked.revision_id and a.course_id = asked.course_id
            union all select b.id from run b where b.setup_revision_id = any(?::uuid[]))`,
          [revisions, courses, [...anywhere]],
        ),
    );
  }

  private async select(narrow: (runs: Knex.QueryBuilder) => void): Promise<TrialRun[]> {
    const query = this.database('run as r')
      .join('setup_revision as fitted', 'fitted.id', 'r.setup_revision_id')
      .join('outing as o', 'o.id', 'r.outing_id')
      .leftJoin('rider', 'rider.id', 'r.rider_id')
      .select(
        'r.id',
        'r.setup_revision_id as revision_id',
        'r.course_id',
        'r.test_kind',
        'fitted.bike_id',
        'o.id as outing_id',
        'o.title',
        'o.date',
        'o.air_temperature_c',
        'o.wind_mps',
        'r.rider_id',
        'rider.mass_kg as rider_mass_kg',
        'r.logger_id',
        'r.direction',
        'r.gauge',
        'r.tyre_pressure_bar',
        'r.perceived_effort',
        'r.is_simulated',
        ...RIDING_SELECTION,
        this.database.raw(
          'exists (select from run_exclusion x where x.run_id = r.id and x.undone_at is null) as is_excluded',
        ),
        this.database.raw(`r.warnings @> '[{"code":"mostly-gaps"}]' as is_mostly_estimated`),
      )
      .whereNull('r.deleted_at')
      .orderBy(['o.date', 'r.id']);
    narrow(query);
    return ((await query) as Row[]).map(toTrialRun);
  }

  /** Counts of runs at which someone has looked at the verdict before. */
  async looksAt(trialIds: readonly string[]): Promise<Map<string, number[]>> {
    const rows: { trial_id: string; counted_runs: number }[] = await this.database('trial_look')
      .select('trial_id', 'counted_runs')
      .whereRaw('trial_id = any(?)', [[...trialIds]]);
    const looks = new Map<string, number[]>();
    for (const { trial_id: id, counted_runs: count } of rows) looks.set(id, [...(looks.get(id) ?? []), count]);
    return looks;
  }

  /** Looking is remembered: however often, what is not there is to be found in no more than 5 of 100 trials. */
  async rememberLook(trialId: string, countedRuns: number): Promise<void> {
    if (countedRuns === 0) return;
    await this.database('trial_look')
      .insert({ trial_id: trialId, counted_runs: countedRuns })
      .onConflict(['trial_id', 'counted_runs'])
      .ignore();
  }

  /** Runs that the plans of trials hold of given kinds of test. */
  async plannedRuns(trialIds: readonly string[]): Promise<Map<string, { testKind: string; courseId: string }[]>> {
    const rows: { trial_id: string; test: { testKind: string; courseId: string } | null }[] = await this.database(
      'plan_slot as s',
    )
      .join('plan as p', 'p.trial_id', 's.trial_id')
      .select('s.trial_id', this.database.raw("p.input->'tests'->s.test as test"))
      .whereRaw('s.trial_id = any(?)', [[...trialIds]]);
    const planned = new Map<string, { testKind: string; courseId: string }[]>();
    for (const { trial_id: id, test } of rows) if (test) planned.set(id, [...(planned.get(id) ?? []), test]);
    return planned;
  }
}

/** The runs that a trial's setups have, oldest outing first, without looking through all runs for each trial. */
export function runsByRevision(
  runs: readonly TrialRun[],
): (trial: { readonly setups: readonly { readonly revisionId: string }[] }) => readonly TrialRun[] {
  const byRevision = new Map<string, TrialRun[]>();
  for (const run of runs) {
    const own = byRevision.get(run.revisionId);
    if (own) own.push(run);
    else byRevision.set(run.revisionId, [run]);
  }
  const place = new Map(runs.map(({ id }, k) => [id, k]));
  return ({ setups }) =>
    [...new Set(setups.map(({ revisionId }) => revisionId))]
      .flatMap((id) => byRevision.get(id) ?? [])
      .sort((a, b) => place.get(a.id)! - place.get(b.id)!);
}

function toTrialRun(row: Row): TrialRun {
  const { gauge, payload_kg: payloadKg, rider_mass_kg: riderKg } = row;
  return {
    id: row.id,
    revisionId: row.revision_id,
    courseId: row.course_id,
    testKind: row.test_kind,
    riding: toRiding(row),
    isSimulated: row.is_simulated,
    isMostlyEstimated: row.is_mostly_estimated,
    isExcluded: row.is_excluded,
    perceivedEffort: row.perceived_effort,
    loggerId: row.logger_id,
    outing: { id: row.outing_id, title: row.title, date: row.date },
    factors: {
      bike: row.bike_id,
      direction: String(row.direction),
      ...(row.rider_id !== null && { rider: row.rider_id }),
    },
    conditions: {
      ...(row.air_temperature_c !== null && { airTemperature: row.air_temperature_c }),
      ...(row.wind_mps !== null && { wind: row.wind_mps }),
      // What was carried is known only where it was written down: nothing is not taken for none.
      ...(riderKg !== null && payloadKg !== null && { load: riderKg + payloadKg }),
      ...(gauge !== null && gauge.bars > 0 && { startCharge: (100 * gauge.start) / gauge.bars }),
      ...(row.tyre_pressure_bar !== null && { tyrePressure: row.tyre_pressure_bar }),
    },
  };
}
