import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import type { Course, CourseInput, TimingGate, Track } from '@ebrix/contract';
import { iso, isoOrNull } from '../common/row.js';
import { KNEX } from '../database/database.module.js';
import { deleteSeen } from '../database/delete-seen.js';

interface CourseRow {
  id: string;
  version: number;
  updated_at: Date;
  archived_at: Date | null;
  name: string;
  kind: Course['kind'];
  length_m: number | null;
  climb_m: number | null;
  climb_uncertainty_m: number | null;
  surface: Course['surface'];
  notes: string;
  track: Track | null;
  cautions: string;
  permission: string;
  wind_exposure: Course['windExposure'];
  is_both_ways: boolean;
  guessed_grade_deg: number | null;
  gates: TimingGate[];
  run_count: number;
}

@Injectable()
export class CourseRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async list(id?: string): Promise<Course[]> {
    const rows = await this.database('course as c')
      .select(
        'c.id',
        'c.version',
        'c.updated_at',
        'c.archived_at',
        'c.name',
        'c.kind',
        'c.length_m',
        'c.climb_m',
        'c.climb_uncertainty_m',
        'c.surface',
        'c.notes',
        'c.track',
        'c.cautions',
        'c.permission',
        'c.wind_exposure',
        'c.is_both_ways',
        'c.guessed_grade_deg',
        'c.gates',
      )
      .select(
        this.database.raw(
          '(select count(*)::int from run where run.course_id = c.id and run.deleted_at is null) as run_count',
        ),
      )
      .where(id === undefined ? {} : { 'c.id': id })
      .orderByRaw('c.archived_at is not null, lower(c.name)');
    return (rows as unknown as CourseRow[]).map(toCourse);
  }

  async insert(input: CourseInput, database: Knex = this.database): Promise<string> {
    const id = uuidv7();
    await database('course').insert({ id, ...toRow(input) });
    return id;
  }

  async update(
    id: string,
    version: number,
    change: CourseInput | { archived: boolean } | { gates: readonly TimingGate[] } | { track: Track | null },
    database: Knex = this.database,
  ): Promise<boolean> {
    const values =
      'archived' in change
        ? { archived_at: change.archived ? this.database.fn.now() : null }
        : 'track' in change
          ? {
              track: change.track && JSON.stringify(change.track),
              ...(change.track && { length_m: change.track.lengthM }),
            }
          : 'gates' in change
            ? { gates: JSON.stringify(change.gates) }
            : toRow(change);
    const count = await database('course')
      .where({ id, version })
      .update({ ...values, version: version + 1, updated_at: database.fn.now() });
    return count > 0;
  }

  delete(id: string, version: number | undefined): Promise<number> {
    return deleteSeen(this.database, 'course', id, version);
  }
}

function toRow(input: CourseInput): Partial<CourseRow> {
  return {
    name: input.name,
    kind: input.kind,
    length_m: input.lengthM,
    climb_m: input.climbM,
    climb_uncertainty_m: input.climbUncertaintyM,
    surface: input.surface,
    notes: input.notes,
    cautions: input.cautions,
    permission: input.permission,
    wind_exposure: input.windExposure,
    is_both_ways: input.isBothWays,
    guessed_grade_deg: input.guessedGradeDeg,
  };
}

function toCourse(row: CourseRow): Course {
  return {
    id: row.id,
    version: row.version,
    updatedAt: iso(row.updated_at),
    archivedAt: isoOrNull(row.archived_at),
    name: row.name,
    kind: row.kind,
    lengthM: row.length_m,
    climbM: row.climb_m,
    climbUncertaintyM: row.climb_uncertainty_m,
    surface: row.surface,
    notes: row.notes,
    runCount: row.run_count,
    track: row.track,
    cautions: row.cautions,
    permission: row.permission,
    windExposure: row.wind_exposure,
    isBothWays: row.is_both_ways,
    guessedGradeDeg: row.guessed_grade_deg,
    gates: row.gates,
  };
}
