import { BlockMeter, type BucketTaker, type MeterFilters, type MeterPart } from '../kernels/blockMeter.ts';
import type { SampleFormat } from '../pcm/sampleFormat.ts';
import { passFilter } from '../signal/biquad.ts';
import { kWeighting } from '../signal/kWeighting.ts';
import { integratedLoudness, loudnessRange, momentaryMax, shortTermMax } from './loudness.ts';
import { BLOCK_SECONDS, type ChannelMeasurement, type Measurement, type PairMeasurement } from './measurement.ts';
import { Series } from './series.ts';

export const SPEECH_BAND_HZ = { low: 150, high: 5000 };
const BUTTERWORTH_Q = Math.SQRT1_2;
// The speech band needs no more rate than this; means of neighbouring samples bring it down.
const LEAST_SPEECH_RATE = 11025;

/**
 * Measures a clip as it streams past: any number of channels, any rate, pushed in pieces of any
 * size. The pieces are gathered into blocks of 100 ms, so the numbers do not depend on how the
 * stream was cut. What needs a second look at single stretches is added later (`secondLook`).
 */
export class ClipMeter {
  private readonly meter: BlockMeter;
  private readonly sides: { sum: number; squares: number; power: Series; weighted: Series; speech: Series }[];
  private readonly between: { product: number; differenceSquare: number; products: Series; differences: Series; speechProducts: Series }[];
  private frames = 0;

  /** @param onBuckets takes the outline's finest level as it is made */
  constructor(
    private readonly sampleRate: number, private readonly channels: number, words: SampleFormat, private readonly onBuckets?: BucketTaker,
    part: MeterPart = 'both',
  ) {
    const blockFrames = Math.max(1, Math.round(sampleRate * BLOCK_SECONDS));
    this.meter = new BlockMeter(words, channels, blockFrames, meterFilters(sampleRate, blockFrames), part);
    this.sides = Array.from({ length: 2 * this.meter.pairs }, () => (
      { sum: 0, squares: 0, power: new Series(), weighted: new Series(), speech: new Series() }
    ));
    this.between = Array.from({ length: this.meter.pairs }, () => (
      { product: 0, differenceSquare: 0, products: new Series(), differences: new Series(), speechProducts: new Series() }
    ));
  }

  /** @param bytes whole frames of interleaved words in the format given */
  push(bytes: Uint8Array): void {
    this.meter.push(bytes, this.takeBlock, this.onBuckets);
  }

  finish(): Measurement {
    this.meter.finish(this.takeBlock, this.onBuckets);
    return {
      sampleRate: this.sampleRate,
      frames: this.frames,
      blockSeconds: this.meter.blockFrames / this.sampleRate,
      channels: Array.from({ length: this.channels }, (_, c) => this.channel(c)),
      pairs: Array.from({ length: Math.floor(this.channels / 2) }, (_, p) => this.pair(p)),
      notFinite: this.meter.notFinite,
      duplicates: [],
    };
  }

  private readonly takeBlock = (frames: number): void => {
    this.frames += frames;
    this.between.forEach((pair, p) => {
      const sums = this.meter.sumsOf(p);
      for (const lane of [0, 1]) {
        const side = this.sides[2 * p + lane];
        side.sum += sums.sum[lane];
        side.squares += sums.squares[lane];
        side.power.push(sums.squares[lane] / frames);
        side.weighted.push(sums.weighted[lane] / frames);
        side.speech.push(sums.speech[lane] / frames);
      }
      pair.product += sums.product;
      pair.differenceSquare += sums.differenceSquares;
      pair.products.push(sums.product / frames);
      pair.differences.push(sums.differenceSquares / frames);
      pair.speechProducts.push(sums.speechProduct / frames);
    });
  };

  private channel(index: number): ChannelMeasurement {
    const { sum, squares, power, weighted, speech } = this.sides[index];
    const { peak, truePeak, clippedSamples, longestZeroRun } = this.meter.totalsOf(index);
    const count = Math.max(this.frames, 1);
    const weightedPowers = weighted.toArray();
    return {
      channel: index + 1,
      peak,
      truePeak,
      meanSquare: squares / count,
      mean: sum / count,
      clippedSamples,
      longestSilenceSeconds: longestZeroRun / this.sampleRate,
      loudnessLufs: integratedLoudness(weightedPowers),
      momentaryMaxLufs: momentaryMax(weightedPowers),
      shortTermMaxLufs: shortTermMax(weightedPowers),
      loudnessRangeLu: loudnessRange(weightedPowers),
      blockPower: power.toArray(),
      blockSpeechPower: speech.toArray(),
      tone: null,
    };
  }

  private pair(index: number): PairMeasurement {
    const { product, differenceSquare, products, differences, speechProducts } = this.between[index];
    const [left, right] = [this.sides[2 * index], this.sides[2 * index + 1]];
    const rightWeighted = right.weighted.toArray();
    return {
      channels: [2 * index + 1, 2 * index + 2],
      loudnessLufs: integratedLoudness(left.weighted.toArray().map((power, i) => power + rightWeighted[i])),
      product,
      squares: [left.squares, right.squares],
      differenceSquare,
      blockProduct: products.toArray(),
      blockSpeechProduct: speechProducts.toArray(),
      blockDifferencePower: differences.toArray(),
      segments: [],
    };
  }
}

/** One measurement from its two parts, each measured by a meter of its own on the same clip. */
export function joinParts(rest: Measurement, delivery: Measurement): Measurement {
  return {
    ...rest,
    channels: rest.channels.map((channel, c) => {
      const { truePeak, loudnessLufs, momentaryMaxLufs, shortTermMaxLufs, loudnessRangeLu } = delivery.channels[c];
      return { ...channel, truePeak, loudnessLufs, momentaryMaxLufs, shortTermMaxLufs, loudnessRangeLu };
    }),
    pairs: rest.pairs.map((pair, p) => ({ ...pair, loudnessLufs: delivery.pairs[p].loudnessLufs })),
  };
}

function meterFilters(sampleRate: number, blockFrames: number): MeterFilters {
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
