import { passFilter } from '../signal/biquad.ts';
import { kWeighting } from '../signal/kWeighting.ts';
import { ClippingMeter } from './clippingMeter.ts';
import { FilterChain } from './filterChain.ts';
import { integratedLoudness } from './loudness.ts';
import type { ChannelMeasurement } from './measurement.ts';
import { Series } from './series.ts';
import { TruePeakMeter } from './truePeakMeter.ts';

const SPEECH_BAND_HZ = { low: 150, high: 6000 };
const BUTTERWORTH_Q = Math.SQRT1_2;

/** Everything measured on one channel by itself. */
export class ChannelMeter {
  private readonly truePeak = new TruePeakMeter();
  private readonly clipping: ClippingMeter;
  private readonly weighting: FilterChain;
  private readonly speechBand: FilterChain;
  private readonly power = new Series();
  private readonly weightedPower = new Series();
  private readonly speechPower = new Series();
  private peak = 0;
  private sum = 0;
  private squares = 0;

  /** @param ceiling the largest value the source's format holds */
  constructor(private readonly channel: number, sampleRate: number, ceiling: number) {
    this.clipping = new ClippingMeter(ceiling);
    this.weighting = new FilterChain(...kWeighting(sampleRate));
    this.speechBand = new FilterChain(
      passFilter('high-pass', SPEECH_BAND_HZ.low, BUTTERWORTH_Q, sampleRate),
      passFilter('low-pass', Math.min(SPEECH_BAND_HZ.high, sampleRate * 0.45), BUTTERWORTH_Q, sampleRate),
    );
  }

  /** One block: the first `frames` of `samples`. */
  pushBlock(samples: Float64Array, frames: number): void {
    this.truePeak.push(samples, frames);
    let { peak } = this;
    let sum = 0;
    let squares = 0;
    for (let i = 0; i < frames; i++) {
      const x = samples[i];
      const level = Math.abs(x);
      if (level > peak) peak = level;
      sum += x;
      squares += x * x;
    }
    this.clipping.push(samples, frames);
    this.peak = peak;
    this.sum += sum;
    this.squares += squares;
    this.power.push(squares / frames);
    this.weightedPower.push(this.weighting.energy(samples, 0, frames) / frames);
    this.speechPower.push(this.speechBand.energy(samples, 0, frames) / frames);
  }

  get weightedPowers(): Float64Array {
    return this.weightedPower.toArray();
  }

  get squareSum(): number {
    return this.squares;
  }

  finish(frames: number): ChannelMeasurement {
    const count = Math.max(frames, 1);
    return {
      channel: this.channel,
      peak: this.peak,
      truePeak: this.truePeak.finish(),
      meanSquare: this.squares / count,
      mean: this.sum / count,
      clippedSamples: this.clipping.clippedSamples,
      loudnessLufs: integratedLoudness(this.weightedPowers),
      blockPower: this.power.toArray(),
      blockSpeechPower: this.speechPower.toArray(),
    };
  }
}
