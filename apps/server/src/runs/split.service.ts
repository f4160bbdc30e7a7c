import { Injectable } from '@nestjs/common';
import { LogProblemError, type LogMapping } from '@ebrix/core/logs';
import type { MappingDto, Split } from '@ebrix/contract';
import { PagePool } from '../compute/compute-pool.js';
import { CourseService } from '../courses/course.service.js';

/** The runs that a log seems to hold. */
@Injectable()
export class SplitService {
  constructor(
    private readonly pool: PagePool,
    private readonly courses: CourseService,
  ) {}

  /** Fails: a log problem when the file cannot be read. */
  async propose(bytes: Uint8Array, mapping: MappingDto | null, courseId: string | null): Promise<Split> {
    const outcome = await this.pool.run('split', {
      bytes,
      mapping: mapping as LogMapping | null,
      gates: courseId === null ? null : await this.courses.gatePositions(courseId),
    });
    if (!outcome.ok) throw new LogProblemError(outcome.problem);
    return { ...outcome.value, runs: [...outcome.value.runs] };
  }
}
