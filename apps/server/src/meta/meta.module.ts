import { Module } from '@nestjs/common';
import { DemoModule } from '../demo/demo.module.js';
import { MetaController } from './meta.controller.js';

@Module({ imports: [DemoModule], controllers: [MetaController] })
export class MetaModule {}
