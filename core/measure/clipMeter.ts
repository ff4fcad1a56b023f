import { ChannelMeter } from './channelMeter.ts';
import { BLOCK_SECONDS, type Measurement } from './measurement.ts';
import { PairMeter } from './pairMeter.ts';

/**
 * Measures a clip as it streams past: any number of channels, any rate, pushed in pieces of any
 * size. The pieces are gathered into blocks of 100 ms, so the numbers do not depend on how the
 * stream was cut.
 */
export class ClipMeter {
  private readonly channelMeters: ChannelMeter[];
  private readonly pairMeters: PairMeter[];
  private readonly block: Float64Array[];
  private readonly blockFrames: number;
  private gathered = 0;
  private frames = 0;

  /** @param ceiling the largest value the source's format holds (`largestValue`) */
  constructor(private readonly sampleRate: number, channels: number, ceiling: number) {
    this.blockFrames = Math.max(1, Math.round(sampleRate * BLOCK_SECONDS));
    this.block = Array.from({ length: channels }, () => new Float64Array(this.blockFrames));
    this.channelMeters = this.block.map((_, c) => new ChannelMeter(c + 1, sampleRate, ceiling));
    this.pairMeters = Array.from({ length: Math.floor(channels / 2) }, (_, p) => (
      new PairMeter([2 * p + 1, 2 * p + 2], [this.channelMeters[2 * p], this.channelMeters[2 * p + 1]])
    ));
  }

  /** @param planar one array a channel, each at least `frames` long, full scale at 1 */
  push(planar: Float64Array[], frames: number): void {
    let start = 0;
    while (start < frames) {
      const count = Math.min(this.blockFrames - this.gathered, frames - start);
      for (let c = 0; c < this.block.length; c++) {
        this.block[c].set(planar[c].subarray(start, start + count), this.gathered);
      }
      this.gathered += count;
      start += count;
      if (this.gathered === this.blockFrames) this.measureBlock();
    }
  }

  finish(): Measurement {
    if (this.gathered > 0) this.measureBlock();
    return {
      sampleRate: this.sampleRate,
      frames: this.frames,
      blockSeconds: this.blockFrames / this.sampleRate,
      channels: this.channelMeters.map((meter) => meter.finish(this.frames)),
      pairs: this.pairMeters.map((meter) => meter.finish()),
    };
  }

  private measureBlock(): void {
    const frames = this.gathered;
    this.block.forEach((samples, c) => this.channelMeters[c].pushBlock(samples, frames));
    this.pairMeters.forEach((meter, p) => meter.pushBlock(this.block[2 * p], this.block[2 * p + 1], frames));
    this.frames += frames;
    this.gathered = 0;
  }
}
