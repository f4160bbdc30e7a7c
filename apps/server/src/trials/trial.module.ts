import { Module } from '@nestjs/common';
import { RunModule } from '../runs/run.module.js';
import { SetupModule } from '../setups/setup.module.js';
import { ComparisonMemory } from './comparison-memory.js';
import { TrialController } from './trial.controller.js';
import { TrialRunRepository } from './trial-run.repository.js';
import { TrialRepository } from './trial.repository.js';
import { TrialService } from './trial.service.js';
import { VerdictService } from './verdict.service.js';

@Module({
  imports: [RunModule, SetupModule],
  controllers: [TrialController],
  providers: [ComparisonMemory, TrialService, TrialRepository, TrialRunRepository, VerdictService],
  exports: [TrialService, TrialRunRepository],
})
export class TrialModule {}
