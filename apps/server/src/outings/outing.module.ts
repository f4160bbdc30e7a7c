import { Module } from '@nestjs/common';
import { JobModule } from '../jobs/job.module.js';
import { OutingController } from './outing.controller.js';
import { OutingRepository } from './outing.repository.js';
import { OutingService } from './outing.service.js';

@Module({
  imports: [JobModule],
  controllers: [OutingController],
  providers: [OutingService, OutingRepository],
  exports: [OutingService, OutingRepository],
})
export class OutingModule {}
