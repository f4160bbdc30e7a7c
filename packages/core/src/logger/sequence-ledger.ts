export interface NumberRange {
  /** Both included. */
  readonly from: number;
  readonly to: number;
}

/** Which numbered lines of a session have come: finds duplicates, late ones and gaps however they arrive. */
export class SequenceLedger {
  /** Disjoint, not touching, increasing. */
  private readonly ranges: { from: number; to: number }[] = [];
  private total = 0;

  constructor(ranges: readonly NumberRange[] = []) {
    for (const { from, to } of ranges) this.addRange(from, to);
  }

  /** Takes note of a line. `late`: a line with a higher number came before it. */
  add(n: number): 'new' | 'late' | 'duplicate' {
    const last = this.ranges.at(-1);
    if (!last || n > last.to) {
      if (last?.to === n - 1) last.to = n;
      else this.ranges.push({ from: n, to: n });
      this.total++;
      return 'new';
    }
    if (this.has(n)) return 'duplicate';
    this.addRange(n, n);
    return 'late';
  }

  has(n: number): boolean {
    const range = this.ranges[this.firstReaching(n)];
    return range !== undefined && range.from <= n;
  }

  get count(): number {
    return this.total;
  }

  /** The number from which a logger that kept its lines should send again: the first that is missing. */
  get resumeFrom(): number {
    const [first] = this.ranges;
    return first && first.from === 0 ? first.to + 1 : 0;
  }

  /** Missing numbers between the first and the last that came. */
  gaps(): NumberRange[] {
    return this.ranges.slice(1).map(({ from }, k) => ({ from: this.ranges[k]!.to + 1, to: from - 1 }));
  }

  missing(): number {
    const [first, last] = [this.ranges[0], this.ranges.at(-1)];
    return first && last ? last.to - first.from + 1 - this.total : 0;
  }

  /** Place of the first range that ends at `n` or later, by halving: a poor line leaves thousands of gaps. */
  private firstReaching(n: number): number {
    let [low, high] = [0, this.ranges.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (this.ranges[middle]!.to < n) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  private addRange(from: number, to: number): void {
    const k = this.firstReaching(from - 1);
    const merged = { from, to };
    let inside = 0;
    let end = k;
    while (end < this.ranges.length && this.ranges[end]!.from <= to + 1) {
      const range = this.ranges[end]!;
      inside += range.to - range.from + 1;
      merged.from = Math.min(merged.from, range.from);
      merged.to = Math.max(merged.to, range.to);
      end++;
    }
    this.ranges.splice(k, end - k, merged);
    this.total += merged.to - merged.from + 1 - inside;
  }
}
