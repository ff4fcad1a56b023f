/**
 * Takes jobs one after another, several loops side by side, until stopped. The queue's own loops do not wait for a job to be marked as done, and
 * end the process when the database is away just then.
 */
export class WorkLoop<Job> {
  private stopped = false;
  private wake: () => void = () => undefined;
  /** Something came while nobody paused: it may have come after the last look. */
  private hasNews = false;

  /**
   * @param next the next job; undefined where there is none now
   * @param perform must not throw
   * @param onTrouble told when no job could be asked for
   */
  constructor(
    private readonly next: () => Promise<Job | undefined>,
    private readonly perform: (job: Job) => Promise<void>,
    private readonly onTrouble: (error: unknown) => void,
    private readonly pollMs: number,
    private readonly longestPauseMs: number,
  ) {}

  async run(): Promise<void> {
    let pauseMs = this.pollMs;
    while (!this.stopped) {
      let job: Job | undefined;
      try {
        job = await this.next();
        pauseMs = this.pollMs;
      } catch (error) {
        this.onTrouble(error);
        pauseMs = Math.min(this.longestPauseMs, pauseMs * 2);
      }
      if (job !== undefined) await this.perform(job);
      else await this.pause(pauseMs);
    }
  }

  /** No further job is asked for; one that is being done goes on. */
  stop(): void {
    this.stopped = true;
    this.wake();
  }

  /** There may be a job now. */
  look(): void {
    this.hasNews = true;
    this.wake();
  }

  private pause(ms: number): Promise<void> {
    if (this.stopped || this.hasNews) {
      this.hasNews = false;
      return Promise.resolve();
    }
    return new Promise((resolve) => {
      const done = (): void => {
        clearTimeout(timer);
        this.wake = () => undefined;
        this.hasNews = false;
        resolve();
      };
      const timer = setTimeout(done, ms);
      this.wake = done;
    });
  }
}
