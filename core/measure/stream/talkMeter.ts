import { BlockMeter } from '../../kernels/blockMeter.ts';
import type { SampleFormat } from '../../pcm/sampleFormat.ts';
import { meterFilters } from './clipMeter.ts';
import { Series } from './series.ts';

/** Short enough to place the edge of a word, long enough to hold a few periods of a low voice. */
const TALK_SECONDS = 0.02;

/** How loud each channel speaks, in steps of `TALK_SECONDS`. */
export interface Talk {
  blockSeconds: number;
  /** Mean square in the speech band, one array a channel. */
  powers: Float64Array[];
}

/** Follows who speaks when, much finer than a clip's own measurement does. */
export class TalkMeter {
  private readonly meter: BlockMeter;
  private readonly series: Series[];
  private readonly blockFrames: number;

  constructor(
    private readonly sampleRate: number,
    channels: number,
    words: SampleFormat,
  ) {
    this.blockFrames = Math.max(1, Math.round(TALK_SECONDS * sampleRate));
    this.meter = new BlockMeter(words, channels, this.blockFrames, meterFilters(sampleRate, this.blockFrames));
    this.series = Array.from({ length: channels }, () => new Series());
  }

  /** Two places to read into what is pushed next: bytes anywhere else are copied first. */
  get inputs(): Uint8Array[] {
    return this.meter.inputs;
  }

  /** @param bytes whole frames of interleaved words */
  push(bytes: Uint8Array): void {
    this.meter.push(bytes, this.takeBlocks);
  }

  finish(): Talk {
    this.meter.finish(this.takeBlocks);
    return {
      blockSeconds: this.blockFrames / this.sampleRate,
      powers: this.series.map((series) => series.toArray()),
    };
  }

  private readonly takeBlocks = (): void => {
    for (let p = 0; p < this.meter.pairs; p++) {
      const { speech } = this.meter.blocksOf(p);
      for (const lane of [0, 1]) this.series[2 * p + lane]?.append(speech[lane]);
    }
  };
}
