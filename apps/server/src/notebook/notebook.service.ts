import { createHash } from 'node:crypto';
import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import {
  partInputSchemas,
  revisionInputSchema,
  runAssignmentSchema,
  type KeepLogs,
  type NotebookAnswer,
  type NotebookInput,
  type RunAssignment,
} from '@ebrix/contract';
import { PartsRepository } from '../bench/parts.repository.js';
import { DomainError, notFound } from '../common/domain-error.js';
import { nextName } from '../common/next-name.js';
import { CourseRepository } from '../courses/course.repository.js';
import { KNEX } from '../database/database.module.js';
import { ImportRepository } from '../imports/import.repository.js';
import { AnalysisRequests } from '../jobs/analysis-requests.js';
import { OutingRepository } from '../outings/outing.repository.js';
import { writeManualReadingsFile } from '../rides/manual-readings-file.js';
import { SetupService } from '../setups/setup.service.js';

type Ride = NotebookInput['rides'][number];
type Sketch = NonNullable<NotebookInput['setups'][number]['sketch']>;
interface Revision {
  readonly revisionId: string;
  readonly name: string;
}

/** Where a ride goes of which no course is known: it has no length and no gates. */
const ON_THE_ROAD = 'On the road';
const SKETCHED = 'Sketched from a notebook. Fill in what is known, and go through the checks before the next ride.';

/**
 * Rides out of a notebook: setups, courses and outings that are not there yet, and a file for each ride that is read like any
 * other, all in one transaction. The same page brought in twice is known by its content.
 */
@Injectable()
export class NotebookService {
  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly parts: PartsRepository,
    private readonly setups: SetupService,
    private readonly courses: CourseRepository,
    private readonly outings: OutingRepository,
    private readonly imports: ImportRepository,
    private readonly requests: AnalysisRequests,
  ) {}

  /** Fails: `not-found` for a setup that is gone, `invalid-request` for a ride whose setup is not among those given. */
  async store({ setups, rides }: NotebookInput): Promise<NotebookAnswer> {
    return this.database.transaction(async (transaction) => {
      const revisions = await this.revisionsOf(setups, rides, transaction);
      const courses = await this.coursesFor(rides, transaction);
      const outings = await this.outingsFor(rides, transaction);
      const importIds: string[] = [];
      const seen = new Map<string, number>();
      for (const [k, ride] of rides.entries()) {
        const assignment = assignmentOf(ride, {
          setupRevisionId: revisions.get(keyOf(ride.setup))!.revisionId,
          courseId: courses.get(keyOf(ride.course || ON_THE_ROAD))!,
          outingId: outings.get(ride.date)!,
        });
        // Two rides that read alike are two rides; the same page twice is not.
        const content = JSON.stringify({
          ...ride,
          revisionId: assignment.setupRevisionId,
          courseId: assignment.courseId,
        });
        const ordinal = (seen.get(content) ?? 0) + 1;
        seen.set(content, ordinal);
        const bytes = writeManualReadingsFile({ notebook: JSON.parse(content) as object, ordinal });
        const importId = await this.imports.insertQueued(
          {
            fileName: `notebook-${ride.date}-${k + 1}.json`,
            sha256: createHash('sha256').update(bytes).digest('hex'),
            bytes,
            mapping: null,
            assignment,
            rideId: null,
          },
          transaction,
        );
        await this.requests.readImport(importId, transaction);
        importIds.push(importId);
      }
      return {
        importIds,
        setups: setups.map(({ written }) => ({ written, ...revisions.get(keyOf(written))! })),
      };
    });
  }

  /**
   * Logs that were looked at before anything was stored become runs, on the road, with an outing a day. Fails as `store` does,
   * and with `wrong-state` when a file waits no more.
   */
  async keepLogs({ setups, logs }: KeepLogs): Promise<NotebookAnswer> {
    return this.database.transaction(async (transaction) => {
      const revisions = await this.revisionsOf(setups, logs, transaction);
      const onTheRoad = logs.map(({ date }) => ({ date, course: '', airTemperatureC: null }));
      const courseId = (await this.coursesFor(onTheRoad, transaction)).get(keyOf(ON_THE_ROAD))!;
      const outings = await this.outingsFor(onTheRoad, transaction);
      const items = logs.map(({ importId, setup, date, testKind, mapping }) => ({
        importId,
        mapping,
        profileName: null,
        parts: [],
        assignment: runAssignmentSchema.parse({
          setupRevisionId: revisions.get(keyOf(setup))!.revisionId,
          courseId,
          outingId: outings.get(date)!,
          testKind,
        }),
      }));
      const refused = await this.imports.enqueue(items, transaction);
      if (refused.length > 0)
        throw new DomainError(
          'wrong-state',
          'A file waits no more to be made a run. Nothing was stored: choose it again.',
        );
      for (const { importId } of items) await this.requests.readImport(importId, transaction);
      return {
        importIds: items.map(({ importId }) => importId),
        setups: setups.map(({ written }) => ({ written, ...revisions.get(keyOf(written))! })),
      };
    });
  }

  /** By name; fails with `invalid-request` for a ride whose setup is not among those given. */
  private async revisionsOf(
    setups: NotebookInput['setups'],
    rides: readonly { readonly setup: string }[],
    transaction: Knex.Transaction,
  ): Promise<Map<string, Revision>> {
    const revisions = new Map<string, Revision>();
    for (const setup of setups) revisions.set(keyOf(setup.written), await this.revisionOf(setup, transaction));
    const unknown = rides.find(({ setup }) => !revisions.has(keyOf(setup)));
    if (unknown)
      throw new DomainError('invalid-request', `“${unknown.setup}” was ridden, but no setup is given for it.`);
    return revisions;
  }

  private async revisionOf(
    { written, revisionId, sketch }: NotebookInput['setups'][number],
    transaction: Knex.Transaction,
  ): Promise<Revision> {
    if (revisionId !== null) {
      const row = await transaction('setup_revision as r')
        .join('setup as s', 's.id', 'r.setup_id')
        .where('r.id', revisionId)
        .first<{ name: string } | undefined>('s.name');
      if (!row) throw notFound(`The setup chosen for “${written}”`);
      return { revisionId, name: row.name };
    }
    if (!sketch) throw new DomainError('invalid-request', `Choose a setup for “${written}”, or describe it.`);
    return this.sketch(sketch, transaction);
  }

  /** A setup of which only what its rides need is known. Everything else stays unknown, and the checks ask for it. */
  private async sketch(sketch: Sketch, transaction: Knex.Transaction): Promise<Revision> {
    const name = await this.freeName('setup', sketch.name, transaction);
    const part = async (kind: 'bikes' | 'kits' | 'packs', table: string, more: object): Promise<string> => {
      const input = partInputSchemas[kind].parse({
        name: await this.freeName(table, name, transaction),
        notes: SKETCHED,
        ...more,
      });
      return (await this.parts.insert(kind, input, transaction)).id;
    };
    const revision = revisionInputSchema.parse({
      bikeId: await part('bikes', 'bike', {}),
      kitId: await part('kits', 'kit', { motorKind: sketch.motorKind }),
      packIds: [
        await part('packs', 'pack', {
          chemistry: sketch.chemistry,
          nominalVoltageV: sketch.packVoltageV,
          capacityAh: sketch.packCapacityAh,
          ...(sketch.gaugeBars !== null && { gaugeKind: 'bars', gaugeSteps: sketch.gaugeBars }),
        }),
      ],
      settings: {},
      change: 'Sketched from a notebook',
    });
    const setupId = await this.setups.insert({ name, notes: SKETCHED, revision }, transaction);
    const row = await transaction('setup_revision').where({ setup_id: setupId }).first<{ id: string }>('id');
    return { revisionId: row.id, name };
  }

  private async freeName(table: string, name: string, transaction: Knex): Promise<string> {
    const rows = (await transaction(table).select('name').whereNull('archived_at')) as { name: string }[];
    return nextName(name, new Set(rows.map((row) => row.name.toLowerCase())));
  }

  /** By name, those that are not there added without a length. */
  private async coursesFor(rides: readonly Pick<Ride, 'course'>[], transaction: Knex): Promise<Map<string, string>> {
    const rows = await transaction('course')
      .select<{ id: string; name: string }[]>('id', 'name')
      .whereNull('archived_at');
    const known = new Map(rows.map(({ id, name }) => [keyOf(name), id]));
    for (const { course } of rides) {
      const name = course || ON_THE_ROAD;
      if (known.has(keyOf(name))) continue;
      const input = {
        name,
        kind: 'one-way',
        lengthM: null,
        surface: 'mixed',
        notes:
          course === '' ? 'Rides of which no course was noted.' : 'From a notebook: draw it or bring in its track.',
        cautions: '',
        permission: '',
        windExposure: null,
        isBothWays: true,
        guessedGradeDeg: null,
        climbM: null,
        climbUncertaintyM: null,
      } as const;
      known.set(keyOf(name), await this.courses.insert(input, transaction));
    }
    return known;
  }

  /** One outing a day, with the mean of the air temperatures noted on it. */
  private async outingsFor(
    rides: readonly Pick<Ride, 'airTemperatureC' | 'date'>[],
    transaction: Knex,
  ): Promise<Map<string, string>> {
    const outings = new Map<string, string>();
    for (const { date } of rides) {
      if (outings.has(date)) continue;
      const title = `Notebook, ${date}`;
      const there = await transaction('outing').where({ title, date }).first<{ id: string } | undefined>('id');
      const air = rides.filter((ride) => ride.date === date).flatMap(({ airTemperatureC }) => airTemperatureC ?? []);
      outings.set(
        date,
        there?.id ??
          (await this.outings.insert(
            {
              title,
              date,
              airTemperatureC: air.length === 0 ? null : air.reduce((sum, t) => sum + t, 0) / air.length,
              airPressureHpa: null,
              relativeHumidity: null,
              windMps: null,
              windFromDeg: null,
              notes: '',
            },
            transaction,
          )),
      );
    }
    return outings;
  }
}

const keyOf = (name: string): string => name.trim().toLowerCase();

function assignmentOf(
  { testKind, riding, gauge, emptied, perceivedEffort, notes, readings }: Ride,
  of: Pick<RunAssignment, 'courseId' | 'outingId' | 'setupRevisionId'>,
): RunAssignment {
  return runAssignmentSchema.parse({
    ...of,
    testKind,
    riding,
    gauge,
    emptied,
    perceivedEffort,
    wheelFactor: null,
    isPartWay: false,
    notes,
    manualReadings: readings,
  });
}
