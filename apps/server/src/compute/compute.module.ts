import { Global, Module } from '@nestjs/common';
import { JobPool, PagePool } from './compute-pool.js';

@Global()
@Module({ providers: [JobPool, PagePool], exports: [JobPool, PagePool] })
export class ComputeModule {}
