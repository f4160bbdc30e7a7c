import { Module } from '@nestjs/common';
import { JobQueue } from './job-queue.js';
import { AnalysisRequests } from './analysis-requests.js';

@Module({ providers: [JobQueue, AnalysisRequests], exports: [JobQueue, AnalysisRequests] })
export class JobModule {}
