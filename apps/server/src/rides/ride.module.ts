import { Module } from '@nestjs/common';
import { BenchModule } from '../bench/bench.module.js';
import { Clock } from '../common/clock.js';
import { CourseModule } from '../courses/course.module.js';
import { ImportModule } from '../imports/import.module.js';
import { JobModule } from '../jobs/job.module.js';
import { LoggingModule } from '../loggers/logger.module.js';
import { OutingModule } from '../outings/outing.module.js';
import { PhotoModule } from '../photos/photo.module.js';
import { PlanModule } from '../plans/plan.module.js';
import { SetupModule } from '../setups/setup.module.js';
import { AlongController } from './along.controller.js';
import { AlongFileService } from './along-file.service.js';
import { AlongService } from './along.service.js';
import { LiveService } from './live.service.js';
import { RideOverviewService } from './ride-overview.service.js';
import { RunOfRideService } from './run-of-ride.service.js';
import { RideController } from './ride.controller.js';
import { RideMarkRepository } from './ride-mark.repository.js';
import { RideMarkService } from './ride-mark.service.js';
import { RideReader } from './ride-reader.service.js';
import { RideRepository } from './ride.repository.js';
import { RideService } from './ride.service.js';
import { SimulatedRidesService } from './simulated-rides.service.js';

@Module({
  imports: [
    BenchModule,
    CourseModule,
    ImportModule,
    LoggingModule,
    OutingModule,
    PhotoModule,
    PlanModule,
    JobModule,
    SetupModule,
  ],
  controllers: [RideController, AlongController],
  providers: [
    RideService,
    AlongFileService,
    AlongService,
    RideOverviewService,
    RunOfRideService,
    RideRepository,
    RideMarkRepository,
    RideReader,
    RideMarkService,
    LiveService,
    SimulatedRidesService,
    Clock,
  ],
  exports: [RideService],
})
export class RideModule {}
