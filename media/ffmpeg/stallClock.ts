const TICK_MS = 1000;

/**
 * Notices that nothing comes any more. It counts ticks of its own and not the time: a machine that slept, or a process that was stopped for a
 * while, has not waited. It stands still while nobody waits.
 */
export class StallClock {
  hasStalled = false;
  private ticks = 0;
  private timer: NodeJS.Timeout | undefined;

  constructor(
    private readonly seconds: number,
    private readonly onStall: () => void,
  ) {}

  /** From now on something is waited for. */
  run(): void {
    this.ticks = 0;
    this.timer ??= setInterval(() => {
      if (++this.ticks < this.seconds) return;
      this.hasStalled = true;
      this.rest();
      this.onStall();
    }, TICK_MS);
  }

  rest(): void {
    clearInterval(this.timer);
    this.timer = undefined;
  }
}
