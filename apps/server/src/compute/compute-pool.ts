import { availableParallelism } from 'node:os';
import { setFlagsFromString } from 'node:v8';
import { Injectable, type OnApplicationShutdown } from '@nestjs/common';
import { Piscina } from 'piscina';
import { clientGone } from '../common/client-gone.js';
import { DomainError } from '../common/domain-error.js';
import { PROGRAMS } from '../programs.js';
import type { TaskInput, TaskName, TaskResult } from './tasks.js';

interface PoolLimits {
  readonly threads: number;
  /** Longest wait for a free thread. */
  readonly waitMs: number;
  /** Longest work on one task; then its thread is replaced, whatever it was doing. */
  readonly workMs: number;
  readonly memoryMb: number;
}

const CORES = availableParallelism();

/**
 * Runs the core's heavy work in threads of its own, so that requests are answered meanwhile.
 * Fails: `busy` while no thread is free, `took-too-long`, `too-much-memory`; what a task throws comes through as it is.
 */
export abstract class ComputePool implements OnApplicationShutdown {
  private pool: Piscina | undefined;
  private free: number;
  private readonly waiting: (() => void)[] = [];

  constructor(private readonly limits: PoolLimits) {
    this.free = limits.threads;
  }

  /** `handedOver`: memory that the thread takes for itself; it is gone here then, not copied. */
  async run<N extends TaskName>(
    name: N,
    input: TaskInput<N>,
    handedOver: readonly ArrayBuffer[] = [],
  ): Promise<TaskResult<N>> {
    const gone = clientGone();
    await this.acquireThread();
    try {
      // Who asked has left while this waited.
      gone?.throwIfAborted();
      this.pool ??= this.open();
      const late = AbortSignal.timeout(this.limits.workMs);
      const signal = gone ? AbortSignal.any([late, gone]) : late;
      return (await this.pool.run({ name, input }, { signal, transferList: [...handedOver] })) as TaskResult<N>;
    } catch (error) {
      throw refusalOf(error, this.limits) ?? error;
    } finally {
      this.releaseThread();
    }
  }

  state(): { of: number; busy: number; waiting: number } {
    return { of: this.limits.threads, busy: this.limits.threads - this.free, waiting: this.waiting.length };
  }

  private open(): Piscina {
    // The server itself may have been started with a small young generation, which keeps it small; what works through logs gets the ordinary one.
    setFlagsFromString('--max-semi-space-size=16');
    return new Piscina({
      filename: PROGRAMS.poolThread.href,
      minThreads: 1,
      maxThreads: this.limits.threads,
      idleTimeout: 30_000,
      resourceLimits: { maxOldGenerationSizeMb: this.limits.memoryMb },
    });
  }

  private async acquireThread(): Promise<void> {
    if (this.free > 0) {
      this.free--;
      return;
    }
    await new Promise<void>((resolve, reject) => {
      const begin = (): void => {
        clearTimeout(timer);
        resolve();
      };
      const timer = setTimeout(() => {
        this.waiting.splice(this.waiting.indexOf(begin), 1);
        reject(new DomainError('busy', 'Ebrix is busy with other files. Nothing was lost; try again in a moment.'));
      }, this.limits.waitMs);
      this.waiting.push(begin);
    });
  }

  private releaseThread(): void {
    const next = this.waiting.shift();
    if (next) next();
    else this.free++;
  }

  async onApplicationShutdown(): Promise<void> {
    await this.pool?.destroy();
  }
}

function refusalOf(error: unknown, { workMs, memoryMb }: PoolLimits): DomainError | undefined {
  const { name, code } = error as { name?: string; code?: string };
  if (name === 'AbortError' || name === 'TimeoutError')
    return new DomainError(
      'took-too-long',
      `This took longer than ${Math.round(workMs / 1000)} s and was stopped; nothing was stored. Export a shorter part or fewer channels, and check that the file is a plain log.`,
    );
  if (code === 'ERR_WORKER_OUT_OF_MEMORY')
    return new DomainError(
      'too-much-memory',
      `This needed more than ${memoryMb} MB of memory and was stopped; nothing was stored. Export a shorter part or fewer channels.`,
    );
  return undefined;
}

/** For pages that wait for the answer: a short wait, a short limit. */
@Injectable()
export class PagePool extends ComputePool {
  constructor() {
    super({ threads: Math.max(1, Math.min(4, CORES)), waitMs: 4_000, workMs: 10_000, memoryMb: 1024 });
  }
}

/** For jobs in the background, which never keep a page waiting. */
@Injectable()
export class JobPool extends ComputePool {
  constructor() {
    super({ threads: Math.max(1, Math.min(4, CORES)), waitMs: 30_000, workMs: 200_000, memoryMb: 1536 });
  }
}
