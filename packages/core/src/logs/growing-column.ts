/** A column of numbers of unknown length, grown by doubling; `expected`: how many there will be about. */
export class GrowingColumn {
  private values: Float64Array;
  private count = 0;

  constructor(expected = 4096) {
    this.values = new Float64Array(Math.max(16, expected));
  }

  push(value: number): void {
    if (this.count === this.values.length) {
      const larger = new Float64Array(this.values.length * 2);
      larger.set(this.values);
      this.values = larger;
    }
    this.values[this.count++] = value;
  }

  get length(): number {
    return this.count;
  }

  /** Shares its memory with the column. */
  toArray(): Float64Array {
    return this.values.subarray(0, this.count);
  }
}
