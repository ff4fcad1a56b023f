const SHORTEST_RUN = 3;

/** Counts samples in runs of three or more at full scale, across blocks. */
export class ClippingMeter {
  private run = 0;
  clippedSamples = 0;

  /** @param ceiling the largest value the source's format holds */
  constructor(private readonly ceiling: number) {}

  push(samples: Float64Array, frames: number): void {
    for (let i = 0; i < frames; i++) {
      if (Math.abs(samples[i]) < this.ceiling) {
        this.run = 0;
        continue;
      }
      this.run++;
      if (this.run === SHORTEST_RUN) this.clippedSamples += SHORTEST_RUN;
      else if (this.run > SHORTEST_RUN) this.clippedSamples++;
    }
  }
}
