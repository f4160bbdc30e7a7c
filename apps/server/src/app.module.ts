import { Module, type DynamicModule } from '@nestjs/common';
import { LoggerModule } from 'nestjs-pino';
import { AccountModule } from './accounts/account.module.js';
import { BenchModule } from './bench/bench.module.js';
import { CONFIG, type Config } from './common/config.js';
import { RequestGuard } from './common/request-guard.js';
import { ComputeModule } from './compute/compute.module.js';
import { CourseModule } from './courses/course.module.js';
import { DatabaseModule } from './database/database.module.js';
import { DataPackageModule } from './data-package/data-package.module.js';
import { DecideModule } from './decide/decide.module.js';
import { DemoModule } from './demo/demo.module.js';
import { ElsewhereModule } from './elsewhere/elsewhere.module.js';
import { ExperienceModule } from './experience/experience.module.js';
import { ForecastModule } from './forecast/forecast.module.js';
import { FittingModule } from './fitting/fitting.module.js';
import { ImportModule } from './imports/import.module.js';
import { MetaModule } from './meta/meta.module.js';
import { JobWorkerModule } from './jobs/job-worker.module.js';
import { LogbookModule } from './logbook/logbook.module.js';
import { LoggingModule } from './loggers/logger.module.js';
import { NotebookModule } from './notebook/notebook.module.js';
import { OutingModule } from './outings/outing.module.js';
import { PhotoModule } from './photos/photo.module.js';
import { PlanModule } from './plans/plan.module.js';
import { QuickLookModule } from './quick-look/quick-look.module.js';
import { ReportModule } from './reports/report.module.js';
import { RideModule } from './rides/ride.module.js';
import { RunModule } from './runs/run.module.js';
import { SetupModule } from './setups/setup.module.js';
import { StandModule } from './stand/stand.module.js';
import { UpkeepModule } from './upkeep/upkeep.module.js';
import { TrialModule } from './trials/trial.module.js';

@Module({})
class ConfigModule {}

@Module({})
export class AppModule {
  static with(config: Config): DynamicModule {
    return {
      module: AppModule,
      imports: [
        {
          module: ConfigModule,
          global: true,
          providers: [
            { provide: CONFIG, useValue: config },
            { provide: RequestGuard, useValue: new RequestGuard(config.EBRIX_HOSTS) },
          ],
          exports: [CONFIG, RequestGuard],
        },
        LoggerModule.forRoot({
          forRoutes: ['{*splat}'],
          pinoHttp: {
            level: config.LOG_LEVEL,
            // Method, route and time only: addresses, names, queries and bodies are nobody's business in a log.
            serializers: {
              req: ({ id, method, url }: { id: unknown; method: string; url: string }) => ({
                id,
                method,
                path: url.split('?')[0],
              }),
              res: ({ statusCode }: { statusCode: number }) => ({ statusCode }),
            },
            customLogLevel: (_request, response, error) => (error || response.statusCode >= 500 ? 'error' : 'info'),
          },
        }),
        DatabaseModule,
        AccountModule,
        ComputeModule,
        BenchModule,
        SetupModule,
        FittingModule,
        ExperienceModule,
        StandModule,
        PhotoModule,
        CourseModule,
        OutingModule,
        ImportModule,
        NotebookModule,
        JobWorkerModule,
        RunModule,
        TrialModule,
        DecideModule,
        ReportModule,
        ElsewhereModule,
        ForecastModule,
        LogbookModule,
        DataPackageModule,
        PlanModule,
        LoggingModule,
        RideModule,
        UpkeepModule,
        QuickLookModule,
        DemoModule,
        MetaModule,
      ],
    };
  }
}
