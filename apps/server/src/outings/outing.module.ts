import { Module } from '@nestjs/common';
import { QueueModule } from '../imports/queue.module.js';
import { OutingController } from './outing.controller.js';
import { OutingRepository } from './outing.repository.js';
import { OutingService } from './outing.service.js';

@Module({
  imports: [QueueModule],
  controllers: [OutingController],
  providers: [OutingService, OutingRepository],
  exports: [OutingService],
})
export class OutingModule {}
