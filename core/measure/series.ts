/** A growing list of numbers in a typed array: an hour of blocks without an hour of objects. */
export class Series {
  private values = new Float64Array(1024);
  private length = 0;

  push(value: number): void {
    if (this.length === this.values.length) {
      const larger = new Float64Array(this.length * 2);
      larger.set(this.values);
      this.values = larger;
    }
    this.values[this.length++] = value;
  }

  toArray(): Float64Array {
    return this.values.slice(0, this.length);
  }
}
