import { Module } from '@nestjs/common';
import { BenchModule } from '../bench/bench.module.js';
import { MarkRepository } from './mark.repository.js';
import { SetupFileService } from './setup-file.service.js';
import { SetupController } from './setup.controller.js';
import { SetupRepository } from './setup.repository.js';
import { ThumbRuleRepository } from './thumb-rule.repository.js';
import { SetupService } from './setup.service.js';

@Module({
  imports: [BenchModule],
  controllers: [SetupController],
  providers: [ThumbRuleRepository, SetupService, SetupRepository, SetupFileService, MarkRepository],
  exports: [SetupService, SetupRepository],
})
export class SetupModule {}
