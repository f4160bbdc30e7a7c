import { Injectable } from '@nestjs/common';
import type { GroupBy, LifePartKey } from '@ebrix/core/life';
import type { ReliabilityDto } from '@ebrix/contract';
import { LifeService, type FittedKit } from './life.service.js';
import { reliabilityOf } from './reliability.js';

/** Answers differ by group and part; more of them than anyone looks at are not kept. */
const MOST_KEPT = 40;

/** Faults of all that was fitted, worked out again only where a kit's life changed. */
@Injectable()
export class ReliabilityService {
  private readonly kept = new Map<string, { readonly kits: readonly FittedKit[]; readonly answer: ReliabilityDto }>();

  constructor(private readonly lives: LifeService) {}

  async of(by: GroupBy, part: LifePartKey | undefined): Promise<ReliabilityDto> {
    const kits = await this.lives.fittedKits();
    const key = `${by} ${part ?? ''}`;
    const before = this.kept.get(key);
    // A life that did not change is the same object.
    if (before && before.kits.length === kits.length && before.kits.every((kit, k) => kit === kits[k]))
      return before.answer;
    const answer = reliabilityOf(kits, by, part);
    if (this.kept.size >= MOST_KEPT) this.kept.clear();
    this.kept.set(key, { kits, answer });
    return answer;
  }
}
