import { Module } from '@nestjs/common';
import { Boss } from './boss.js';
import { RunAnalysisQueue } from './run-analysis.queue.js';

@Module({ providers: [Boss, RunAnalysisQueue], exports: [Boss, RunAnalysisQueue] })
export class QueueModule {}
