import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { haversineM, LogProblemError } from '@ebrix/core/logs';
import type { TimingGatePositions } from '@ebrix/core/analysis';
import type { z } from 'zod';
import { timedSection, placeOnCourse, trackOfDrawing } from '@ebrix/core/courses';
import type { Course, CourseInput, drawingSchema, timingGatesInputSchema } from '@ebrix/contract';
import { changedMeanwhile } from '../bench/parts.service.js';
import { DomainError, notFound } from '../common/domain-error.js';
import type { UploadedLog } from '../common/uploads.js';
import { PagePool } from '../compute/compute-pool.js';
import { KNEX } from '../database/database.module.js';
import { AnalysisRequests } from '../jobs/analysis-requests.js';
import { CourseRepository } from './course.repository.js';

/** Gates nearer to each other than this cannot be told apart by positions. */
const NEAR_M = 60;

@Injectable()
export class CourseService {
  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly courses: CourseRepository,
    private readonly pool: PagePool,
    private readonly analyses: AnalysisRequests,
  ) {}

  list(): Promise<Course[]> {
    return this.courses.list();
  }

  async get(id: string): Promise<Course> {
    const [course] = await this.courses.list(id);
    if (!course) throw notFound('This course');
    return course;
  }

  async add(input: CourseInput): Promise<Course> {
    return this.get(await this.courses.insert(input));
  }

  /** Figures of its runs are worked out again where they rest on what changes. */
  async change(id: string, version: number, change: Parameters<CourseRepository['update']>[2]): Promise<Course> {
    const before = await this.get(id);
    const isChanged = await this.database.transaction(async (transaction) => {
      if (!(await this.courses.update(id, version, change, transaction))) return false;
      if (touchesFigures(before, change)) await this.analyses.analyse({ course_id: id }, transaction);
      return true;
    });
    const current = await this.get(id);
    if (!isChanged) throw changedMeanwhile(current);
    return current;
  }

  /** The track also settles the course's length. */
  /** `seen`: the version of the course that the track is meant for. Fails: `changed-meanwhile`. */
  async setTrack(id: string, { bytes, fileName }: UploadedLog, seen?: number): Promise<Course> {
    const version = seen ?? (await this.get(id)).version;
    const outcome = await this.pool.run('readTrack', { bytes, fileName });
    if (!outcome.ok) throw new LogProblemError(outcome.problem);
    return this.change(id, version, { track: outcome.value });
  }

  /** Moves gates. Fails: `recut-needed` when the course has runs and the tester did not say that they are to be cut anew. */
  async setGates(id: string, { version, gates, recutRuns }: z.output<typeof timingGatesInputSchema>): Promise<Course> {
    const course = await this.get(id);
    const beyond = gates.find(({ distanceM }) => course.lengthM !== null && distanceM > course.lengthM + 0.5);
    if (beyond)
      throw new DomainError(
        'invalid-request',
        `A gate at ${Math.round(beyond.distanceM)} m lies beyond the end of the course (${Math.round(course.lengthM!)} m).`,
      );
    if (course.runCount > 0 && !recutRuns)
      throw new DomainError(
        'recut-needed',
        `${course.runCount} runs were ridden on this course. Moving its gates re-cuts them: their figures change, the old ones stay in their history.`,
        { runs: course.runCount },
      );
    const isChanged = await this.database.transaction(async (transaction) => {
      if (!(await this.courses.update(id, version, { gates }, transaction))) return false;
      await this.analyses.analyse({ course_id: id }, transaction);
      return true;
    });
    const current = await this.get(id);
    if (!isChanged) throw changedMeanwhile(current);
    return current;
  }

  /** Start and finish of the timed part on the earth; null where the track has no positions, or the course comes back to its start. */
  async gatePositions(id: string): Promise<TimingGatePositions | null> {
    const { track, gates, lengthM } = await this.get(id);
    if (!track || lengthM === null) return null;
    const { startM, finishM } = timedSection(gates, lengthM);
    const shape = { lengthM: track.lengthM, plan: track.plan, ...(track.origin && { origin: track.origin }) };
    const [start, finish] = [placeOnCourse(shape, startM), placeOnCourse(shape, finishM)];
    return start && finish && haversineM(start.latitude, start.longitude, finish.latitude, finish.longitude) > NEAR_M
      ? { start, finish }
      : null;
  }

  async draw(id: string, { version, corners, altitudes }: z.output<typeof drawingSchema>): Promise<Course> {
    const drawn = trackOfDrawing(corners, altitudes);
    if (!(drawn.lengthM > 0))
      throw new DomainError(
        'invalid-request',
        'A drawn course needs two corners, or two altitudes with their distances.',
      );
    return this.change(id, version, {
      track: { fileName: 'drawn', ...drawn, plan: [...drawn.plan], profile: drawn.profile && [...drawn.profile] },
    });
  }

  /** Fails: `changed-meanwhile` where it is not the version that was seen. */
  async remove(id: string, version: number | undefined): Promise<void> {
    if ((await this.courses.delete(id, version)) === 0) throw notFound('This course');
  }
}

/** Length, climb and track go into the figures of the runs; a name or a caution does not. */
function touchesFigures(before: Course, change: Parameters<CourseRepository['update']>[2]): boolean {
  if ('track' in change) return true;
  if (!('lengthM' in change)) return false;
  return (['climbM', 'climbUncertaintyM', 'kind', 'lengthM'] as const).some((field) => change[field] !== before[field]);
}
