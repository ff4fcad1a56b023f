import { setTimeout as pause } from 'node:timers/promises';

const FIRST_PAUSE_MS = 250;
const LONGEST_PAUSE_MS = 10_000;
// What ran this long did not fail at starting.
const STEADY_MS = 2000;

/** Keeps something running until it is told to stop: what ends by itself is started again, after pauses that grow while it keeps ending. */
export class Kept {
  /**
   * @param name how it is called in what is printed
   * @param start resolves to { ended: a promise, stop: ends it }
   */
  constructor(name, start, logFile) {
    this.name = name;
    this.start = start;
    this.logFile = logFile;
    this.current = null;
    this.stopped = false;
    this.abort = new AbortController();
  }

  /** The first start; what goes wrong in it is thrown. Afterwards it is kept. */
  async begin() {
    this.current = await this.start();
    this.keeping = this.keep();
  }

  async stop() {
    this.stopped = true;
    this.abort.abort();
    await this.current?.stop();
    await this.keeping;
  }

  async keep() {
    let pauseMs = FIRST_PAUSE_MS;
    while (!this.stopped) {
      const since = Date.now();
      await this.current?.ended;
      if (this.stopped) return;
      pauseMs = Date.now() - since > STEADY_MS ? FIRST_PAUSE_MS : Math.min(LONGEST_PAUSE_MS, pauseMs * 2);
      console.error(`The ${this.name} stopped by itself and is started again; ${this.logFile} says why.`);
      await pause(pauseMs, undefined, { signal: this.abort.signal }).catch(() => undefined);
      if (this.stopped) return;
      this.current = await this.start().catch(() => null);
    }
  }
}
