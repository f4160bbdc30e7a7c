import { availableParallelism } from 'node:os';
import { Injectable, type OnApplicationShutdown } from '@nestjs/common';
import { Piscina } from 'piscina';
import { DomainError } from '../common/domain-error.js';
import type { TaskInput, TaskName, TaskResult } from './tasks.js';

/** Runs the core's heavy work in threads of its own, so that requests are answered meanwhile. */
@Injectable()
export class ComputePool implements OnApplicationShutdown {
  private pool: Piscina | undefined;

  run<N extends TaskName>(name: N, input: TaskInput<N>, signal?: AbortSignal): Promise<TaskResult<N>> {
    this.pool ??= new Piscina({
      filename: new URL('./compute.worker.js', import.meta.url).href,
      minThreads: 1,
      maxThreads: Math.max(1, Math.min(4, availableParallelism())),
      maxQueue: 200,
      idleTimeout: 30_000,
      resourceLimits: { maxOldGenerationSizeMb: 1024 },
    });
    return this.pool.run({ name, input }, signal ? { signal } : {}).catch((error: unknown) => {
      if (error instanceof Error && error.message.includes('queue is at limit'))
        throw new DomainError('busy', 'Ebrix is busy reading other files. Try again in a moment.');
      throw error;
    }) as Promise<TaskResult<N>>;
  }

  async onApplicationShutdown(): Promise<void> {
    await this.pool?.destroy();
  }
}
