import { Injectable, Logger } from '@nestjs/common';
import { ImportProcessor } from '../imports/import.processor.js';
import { ReanalysisService } from '../runs/reanalysis.service.js';
import { RunAnalyser } from '../runs/run-analyser.js';
import { JobQueue, QUEUES } from './job-queue.js';

/** Takes the jobs of this process, and takes up what processes that ended had left. */
@Injectable()
export class JobWorkers {
  private readonly logger = new Logger('jobs');

  constructor(
    private readonly jobQueue: JobQueue,
    private readonly imports: ImportProcessor,
    private readonly analyser: RunAnalyser,
    private readonly reanalyses: ReanalysisService,
  ) {}

  async start(parallel: number): Promise<void> {
    await this.jobQueue.work(QUEUES.readImport, parallel, (id) => this.imports.readImport(id));
    await this.jobQueue.work(QUEUES.analyseRun, 1, (id) => this.analyser.takeJob(id));
    await this.jobQueue.work(QUEUES.reanalyse, 1, (id) => this.reanalyses.takeJob(id));
    await this.resume();
    this.jobQueue.recovered.subscribe(() => {
      // What fails here is taken up when the database comes back the next time.
      this.resume().catch((error: unknown) => this.logger.warn(String(error)));
    });
  }

  /** A job that is done, or that a living process works on, finds nothing to claim. */
  async resume(): Promise<void> {
    for (const id of await this.imports.unfinished()) await this.jobQueue.enqueue(QUEUES.readImport, id);
    for (const id of await this.analyser.pending()) await this.jobQueue.enqueue(QUEUES.analyseRun, id);
    for (const id of await this.reanalyses.unfinished()) await this.jobQueue.enqueue(QUEUES.reanalyse, id);
  }
}
