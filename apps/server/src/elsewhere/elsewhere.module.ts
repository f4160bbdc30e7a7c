import { Module } from '@nestjs/common';
import { TrialModule } from '../trials/trial.module.js';
import { ElsewhereController } from './elsewhere.controller.js';
import { ElsewhereRepository } from './elsewhere.repository.js';
import { ElsewhereService } from './elsewhere.service.js';

@Module({
  imports: [TrialModule],
  controllers: [ElsewhereController],
  providers: [ElsewhereService, ElsewhereRepository],
  exports: [ElsewhereService],
})
export class ElsewhereModule {}
