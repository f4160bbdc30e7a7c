/** A column of numbers of unknown length, grown by doubling. */
export class GrowingColumn {
  private values = new Float64Array(4096);
  private count = 0;

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

  toArray(): Float64Array {
    return this.values.slice(0, this.count);
  }
}
