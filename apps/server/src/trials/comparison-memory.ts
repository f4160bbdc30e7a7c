import { createHash } from 'node:crypto';
import { Injectable } from '@nestjs/common';
import type { ComparisonInput } from '@ebrix/core/compare';
import { PagePool } from '../compute/compute-pool.js';
import type { Compared } from './tell-verdict.js';

/** More than any list of trials shows; the oldest goes first. */
const MOST = 3000;
/** So many a task: a long list is many short tasks, between which others get their turn. */
const PER_TASK = 8;

/** Comparisons depend on their input alone: what was worked out once for a list is not worked out again until a run changes. */
@Injectable()
export class ComparisonMemory {
  private readonly known = new Map<string, Compared>();

  constructor(private readonly pool: PagePool) {}

  async compareAll(inputs: readonly ComparisonInput[]): Promise<Compared[]> {
    const keys = inputs.map(keyOf);
    const answers = new Map<string, Compared>();
    const missing = new Map<string, ComparisonInput>();
    inputs.forEach((input, k) => {
      const key = keys[k]!;
      const known = this.known.get(key);
      if (known) answers.set(key, known);
      else missing.set(key, input);
    });
    const entries = [...missing];
    for (let at = 0; at < entries.length; at += PER_TASK) {
      const part = entries.slice(at, at + PER_TASK);
      const outcomes = await this.pool.run(
        'compareAll',
        part.map(([, input]) => input),
      );
      part.forEach(([key], k) => answers.set(key, outcomes[k]!));
    }
    this.remember(answers);
    return keys.map((key) => answers.get(key)!);
  }

  private remember(answers: ReadonlyMap<string, Compared>): void {
    for (const [key, answer] of answers) {
      this.known.delete(key);
      this.known.set(key, answer);
    }
    for (const key of this.known.keys()) {
      if (this.known.size <= MOST) return;
      this.known.delete(key);
    }
  }
}

function keyOf(input: ComparisonInput): string {
  return createHash('sha256').update(JSON.stringify(input)).digest('base64');
}
