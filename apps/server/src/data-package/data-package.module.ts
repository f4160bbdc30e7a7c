import { Module } from '@nestjs/common';
import { Clock } from '../common/clock.js';
import { RunModule } from '../runs/run.module.js';
import { TrialModule } from '../trials/trial.module.js';
import { DataPackageController } from './data-package.controller.js';
import { DerivedTables } from './derived-tables.js';
import { ExportService } from './export.service.js';
import { ImportPackageService } from './import-package.service.js';
import { WorkbookService } from './workbook.service.js';

@Module({
  imports: [RunModule, TrialModule],
  controllers: [DataPackageController],
  providers: [ExportService, ImportPackageService, DerivedTables, WorkbookService, Clock],
})
export class DataPackageModule {}
