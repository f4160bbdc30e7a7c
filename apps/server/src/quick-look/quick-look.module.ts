import { Module } from '@nestjs/common';
import { QuickLookController } from './quick-look.controller.js';
import { QuickLookService } from './quick-look.service.js';

@Module({ controllers: [QuickLookController], providers: [QuickLookService] })
export class QuickLookModule {}
