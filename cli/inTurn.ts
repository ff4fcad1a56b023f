/** Work that is done side by side, with one part of each in the order given. */
export class InTurn {
  private readonly left: Promise<void>[];
  private readonly leaves: (() => void)[] = [];

  constructor(count: number) {
    this.left = Array.from(
      { length: count },
      () =>
        new Promise<void>((resolve) => {
          this.leaves.push(resolve);
        }),
    );
  }

  /** Waits until those before have done their part, or will not do it any more. */
  async reached(index: number): Promise<void> {
    await Promise.all(this.left.slice(0, index));
  }

  /** Its part is done. */
  leave(index: number): void {
    this.leaves[index]();
  }
}
