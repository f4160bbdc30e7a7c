import { Injectable } from '@nestjs/common';
import { LogProblemError } from '@ebrix/core/logs';
import type { Course, CourseInput } from '@ebrix/contract';
import { changedMeanwhile } from '../bench/parts.service.js';
import { notFound } from '../common/domain-error.js';
import type { UploadedLog } from '../common/uploads.js';
import { ComputePool } from '../compute/compute-pool.js';
import { CourseRepository } from './course.repository.js';

@Injectable()
export class CourseService {
  constructor(
    private readonly courses: CourseRepository,
    private readonly pool: ComputePool,
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

  async change(id: string, version: number, change: Parameters<CourseRepository['update']>[2]): Promise<Course> {
    const isChanged = await this.courses.update(id, version, change);
    const current = await this.get(id);
    if (!isChanged) throw changedMeanwhile(current);
    return current;
  }

  /** The track also settles the course's length. */
  async setTrack(id: string, { bytes, fileName }: UploadedLog): Promise<Course> {
    const { version } = await this.get(id);
    const outcome = await this.pool.run('readTrack', { bytes, fileName });
    if (!outcome.ok) throw new LogProblemError(outcome.problem);
    return this.change(id, version, { track: outcome.value });
  }

  async remove(id: string): Promise<void> {
    if ((await this.courses.delete(id)) === 0) throw notFound('This course');
  }
}
