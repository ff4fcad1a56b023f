// A minute and a half of blocks.
const PIECE = 1024;

/** A growing list of numbers in typed arrays: an hour of blocks without an hour of objects, and never twice in memory while it grows. */
export class Series {
  private pieces: Float64Array[] = [];
  private open = new Float64Array(PIECE);
  private used = 0;

  push(value: number): void {
    if (this.used === PIECE) {
      this.pieces.push(this.open);
      this.open = new Float64Array(PIECE);
      this.used = 0;
    }
    this.open[this.used++] = value;
  }

  /** All of them, once: what they were gathered in is let go. */
  toArray(): Float64Array {
    const all = new Float64Array(this.pieces.length * PIECE + this.used);
    this.pieces.forEach((piece, i) => all.set(piece, i * PIECE));
    all.set(this.open.subarray(0, this.used), this.pieces.length * PIECE);
    this.pieces = [];
    this.used = 0;
    return all;
  }
}
