/** A growing list of numbers in a typed array: an hour of blocks without an hour of objects. */
export class Series {
  private values: Float64Array;
  private length = 0;

  /** @param expected how many there will be, as far as is known */
  constructor(expected = 1024) {
    this.values = new Float64Array(Math.max(1, expected));
  }

  push(value: number): void {
    if (this.length === this.values.length) {
      const larger = new Float64Array(this.length * 2);
      larger.set(this.values);
      this.values = larger;
    }
    this.values[this.length++] = value;
  }

  toArray(): Float64Array {
    return this.length === this.values.length ? this.values : this.values.slice(0, this.length);
  }
}
