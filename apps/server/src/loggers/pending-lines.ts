import type { StoredLine } from '@ebrix/core/logger';

const BATCH_LINES = 2000;
const LINE_BYTES = 80;
const VALUE_BYTES = 12;

/** Lines of one session that are not on disk yet, in batches: a line leaves only once it is stored. */
export class PendingLines {
  private readonly batches: StoredLine[][] = [];
  bytes = 0;
  length = 0;

  push(line: StoredLine): number {
    let batch = this.batches.at(-1);
    if (!batch || batch.length >= BATCH_LINES) this.batches.push((batch = []));
    batch.push(line);
    const bytes = bytesOf(line);
    this.bytes += bytes;
    this.length++;
    return bytes;
  }

  /** The oldest lines; they stay until `drop` says how many of them are on disk. */
  oldest(): readonly StoredLine[] {
    return [...(this.batches[0] ?? [])];
  }

  /** Gives back the bytes that became free. */
  drop(count: number): number {
    const dropped = this.batches[0]!.splice(0, count);
    if (this.batches[0]!.length === 0) this.batches.shift();
    const bytes = dropped.reduce((sum, line) => sum + bytesOf(line), 0);
    this.bytes -= bytes;
    this.length -= dropped.length;
    return bytes;
  }

  /** Every line up to `highest` that is not waiting here is on disk: the number that may be acknowledged. */
  acknowledgeable(highest: number): number {
    let least = Infinity;
    for (const batch of this.batches) for (const [n] of batch) least = Math.min(least, n);
    return Math.min(highest, least - 1);
  }
}

/** What a line takes in memory, roughly. */
function bytesOf(line: StoredLine): number {
  return LINE_BYTES + VALUE_BYTES * line.length;
}
