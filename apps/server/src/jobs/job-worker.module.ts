import { Module } from '@nestjs/common';
import { ImportModule } from '../imports/import.module.js';
import { RunModule } from '../runs/run.module.js';
import { JobModule } from './job.module.js';
import { JobWorkers } from './job-workers.js';

@Module({ imports: [JobModule, ImportModule, RunModule], providers: [JobWorkers] })
export class JobWorkerModule {}
