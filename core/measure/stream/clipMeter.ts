import { BlockMeter, BUCKET_FRAMES, type BucketTaker, type MeterFilters } from '../../kernels/blockMeter.ts';
import { bytesPerSample, type SampleFormat } from '../../pcm/sampleFormat.ts';
import { passFilter } from '../../signal/biquad.ts';
import { kWeighting } from '../../signal/kWeighting.ts';
import { blockLength, wholeClip, type ClipPart } from './clipParts.ts';
import { measurementOf, type ClipSums } from './clipSums.ts';
import type { Measurement } from '../measurement.ts';
import { Series } from './series.ts';
import { SPEECH_BAND_HZ } from './speechBand.ts';

const BUTTERWORTH_Q = Math.SQRT1_2;
// The speech band needs no more rate than this; means of neighbouring samples bring it down.
const LEAST_SPEECH_RATE = 11025;

export interface ClipMeterOptions {
  /** Takes the outline's finest level as it is made. */
  onBuckets?: BucketTaker;
  /** What of the clip is pushed, from its `readFrame` on; all of it when left out. */
  part?: ClipPart;
}

/**
 * Measures a clip as it streams past: any number of channels, any rate, pushed in pieces of any
 * size. The pieces are gathered into blocks of 100 ms, so the numbers do not depend on how the
 * stream was cut. What needs a second look at single stretches is added later (`secondLook`).
 */
export class ClipMeter {
  private readonly meter: BlockMeter;
  private readonly part: ClipPart;
  private readonly takeBuckets?: BucketTaker;
  private readonly sides: { sum: number; clipped: number; power: Series; weighted: Series; speech: Series }[];
  private readonly between: { products: Series; differences: Series; speechProducts: Series }[];
  private readonly bytesPerSample: number;
  private frames = 0;
  private settlingFrames: number;
  private bucket: number;

  constructor(
    private readonly sampleRate: number,
    private readonly channels: number,
    words: SampleFormat,
    options: ClipMeterOptions = {},
  ) {
    this.part = options.part ?? wholeClip();
    this.bytesPerSample = bytesPerSample(words);
    this.settlingFrames = this.part.startFrame - this.part.readFrame;
    this.bucket = Math.floor(this.part.readFrame / BUCKET_FRAMES);
    this.takeBuckets = options.onBuckets && this.bucketsOfPart(options.onBuckets);
    const blockFrames = blockLength(sampleRate);
    this.meter = new BlockMeter(
      words,
      channels,
      blockFrames,
      meterFilters(sampleRate, blockFrames),
      this.part.readFrame % BUCKET_FRAMES,
    );
    this.sides = Array.from({ length: 2 * this.meter.pairs }, () => ({
      sum: 0,
      clipped: 0,
      power: new Series(),
      weighted: new Series(),
      speech: new Series(),
    }));
    this.between = Array.from({ length: this.meter.pairs }, () => ({
      products: new Series(),
      differences: new Series(),
      speechProducts: new Series(),
    }));
  }

  /** Two places to read into what is pushed next, by turns: bytes anywhere else are copied first. */
  get inputs(): Uint8Array[] {
    return this.meter.inputs;
  }

  /** @param bytes whole frames of interleaved words in the format given */
  push(bytes: Uint8Array): void {
    const frameBytes = this.channels * this.bytesPerSample;
    const settling = bytes.subarray(0, this.settlingFrames * frameBytes);
    if (settling.length > 0) {
      this.meter.push(settling, this.takeBlocks, this.takeBuckets);
      this.settlingFrames -= settling.length / frameBytes;
      if (this.settlingFrames === 0) this.meter.forget();
    }
    const measured = bytes.subarray(settling.length);
    this.frames += measured.length / frameBytes;
    this.meter.push(measured, this.takeBlocks, this.takeBuckets);
  }

  finish(): Measurement {
    return measurementOf(this.finishPart());
  }

  /** What `joinSums` takes, where the clip has another part. Nothing is pushed afterwards. */
  finishPart(): ClipSums {
    this.meter.finish(this.takeBlocks, this.takeBuckets);
    if (this.part.endsClip) this.meter.runOut();
    const sums: ClipSums = {
      sampleRate: this.sampleRate,
      frames: this.frames,
      notFinite: this.meter.notFinite,
      channels: this.sides.slice(0, this.channels).map(({ sum, clipped, power, weighted, speech }, c) => ({
        ...this.meter.totalsOf(c),
        sum,
        clippedSamples: clipped,
        power: power.toArray(),
        weighted: weighted.toArray(),
        speech: speech.toArray(),
      })),
      pairs: this.between.slice(0, Math.floor(this.channels / 2)).map(({ products, differences, speechProducts }) => ({
        products: products.toArray(),
        differences: differences.toArray(),
        speechProducts: speechProducts.toArray(),
      })),
    };
    this.meter.end();
    return sums;
  }

  private readonly takeBlocks = (): void => {
    if (this.settlingFrames > 0) return;
    this.between.forEach((pair, p) => {
      const blocks = this.meter.blocksOf(p);
      for (const lane of [0, 1]) {
        const side = this.sides[2 * p + lane];
        side.sum = totalOf(side.sum, blocks.sums[lane]);
        side.clipped = totalOf(side.clipped, blocks.clipped[lane]);
        side.power.append(blocks.powers[lane]);
        side.weighted.append(blocks.weighted[lane]);
        side.speech.append(blocks.speech[lane]);
      }
      pair.products.append(blocks.products);
      pair.differences.append(blocks.differences);
      pair.speechProducts.append(blocks.speechProducts);
    });
  };

  /** Passes on the buckets that belong to the part. */
  private bucketsOfPart(take: BucketTaker): BucketTaker {
    const first = this.part.bucketsStartFrame / BUCKET_FRAMES;
    return (values, buckets, framesInLast) => {
      const width = values.length / buckets;
      const from = Math.max(0, first - this.bucket);
      const to = Math.min(buckets, this.part.bucketsEndFrame / BUCKET_FRAMES - this.bucket);
      this.bucket += buckets;
      if (from < to)
        take(values.subarray(from * width, to * width), to - from, to === buckets ? framesInLast : BUCKET_FRAMES);
    };
  }
}

const totalOf = (before: number, values: Float64Array): number =>
  values.reduce((total, value) => total + value, before);

/** The filters that blocks of a length are measured through. */
export function meterFilters(sampleRate: number, blockFrames: number): MeterFilters {
  const [shelf, highPass] = kWeighting(sampleRate);
  let speechStep = Math.max(1, Math.floor(sampleRate / LEAST_SPEECH_RATE));
  while (blockFrames % speechStep !== 0) speechStep--;
  const rate = sampleRate / speechStep;
  return {
    shelf,
    highPass,
    speech: [
      passFilter('high-pass', SPEECH_BAND_HZ.low, BUTTERWORTH_Q, rate),
      passFilter('low-pass', Math.min(SPEECH_BAND_HZ.high, rate * 0.45), BUTTERWORTH_Q, rate),
    ],
    speechStep,
  };
}
