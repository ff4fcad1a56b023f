/** A growing list of numbers in typed arrays: an hour of blocks without an hour of objects, and never twice in memory while it grows. */
export class Series {
  private pieces: Float64Array[] = [];

  append(values: Float64Array): void {
    this.pieces.push(values.slice());
  }

  /** All of them, once: what they were gathered in is let go. */
  toArray(): Float64Array {
    const all = new Float64Array(this.pieces.reduce((length, piece) => length + piece.length, 0));
    let at = 0;
    for (const piece of this.pieces) {
      all.set(piece, at);
      at += piece.length;
    }
    this.pieces = [];
    return all;
  }
}
