/** Work that is done side by side, with one step of each in the order given. */
export class InTurn {
  private readonly ended: Promise<void>[];
  private readonly end: (() => void)[] = [];

  constructor(count: number) {
    this.ended = Array.from(
      { length: count },
      () =>
        new Promise<void>((resolve) => {
          this.end.push(resolve);
        }),
    );
  }

  /** Waits until those before have done the step, or will not do it any more. */
  async step<Result>(index: number, act: () => Promise<Result>): Promise<Result> {
    await Promise.all(this.ended.slice(0, index));
    return act().finally(() => this.leave(index));
  }

  leave(index: number): void {
    this.end[index]();
  }
}
