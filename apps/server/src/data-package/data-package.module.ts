import { Module } from '@nestjs/common';
import { Clock } from '../common/clock.js';
import { RunModule } from '../runs/run.module.js';
import { TrialModule } from '../trials/trial.module.js';
import { DataPackageController } from './data-package.controller.js';
import { DerivedTables } from './derived-tables.js';
import { ExportService } from './export.service.js';
import { ImportPackageService } from './import-package.service.js';
import { PreparedPackagesController } from './prepared-packages.controller.js';
import { PreparedPackagesService } from './prepared-packages.service.js';
import { WorkbookService } from './workbook.service.js';

@Module({
  imports: [RunModule, TrialModule],
  controllers: [DataPackageController, PreparedPackagesController],
  providers: [ExportService, ImportPackageService, PreparedPackagesService, DerivedTables, WorkbookService, Clock],
})
export class DataPackageModule {}
