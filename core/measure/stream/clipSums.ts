import { sumsOf, totalOf } from '../../kernels/blockSeries.ts';
import type { ChannelTotals, ZeroRuns } from '../../kernels/blockMeter.ts';
import { blockLength } from './clipParts.ts';
import { integratedLoudness, loudnessOf } from './loudness.ts';
import type { ChannelMeasurement, Measurement, PairMeasurement } from '../measurement.ts';

/** What metering adds up; parts of a clip can be joined. */
export interface ClipSums {
  sampleRate: number;
  frames: number;
  notFinite: number;
  channels: ChannelSums[];
  pairs: PairSeries[];
}

interface ChannelSums extends ChannelTotals {
  /** Of integer words it is exact, in whatever parts a clip was metered. */
  sum: number;
  clippedSamples: number;
  power: Float64Array;
  weighted: Float64Array;
  speech: Float64Array;
}

interface PairSeries {
  products: Float64Array;
  differences: Float64Array;
  speechProducts: Float64Array;
}

/** Sums of two parts of a clip, one after the other, as if metered in one. */
export function joinSums(first: ClipSums, second: ClipSums): ClipSums {
  return {
    sampleRate: first.sampleRate,
    frames: first.frames + second.frames,
    notFinite: first.notFinite + second.notFinite,
    channels: first.channels.map((one, c) => {
      const other = second.channels[c];
      return {
        peak: Math.max(one.peak, other.peak),
        truePeak: Math.max(one.truePeak, other.truePeak),
        zeroRuns: joinRuns(one.zeroRuns, other.zeroRuns),
        sum: one.sum + other.sum,
        clippedSamples: one.clippedSamples + other.clippedSamples,
        power: joined(one.power, other.power),
        weighted: joined(one.weighted, other.weighted),
        speech: joined(one.speech, other.speech),
      };
    }),
    pairs: first.pairs.map((one, p) => {
      const other = second.pairs[p];
      return {
        products: joined(one.products, other.products),
        differences: joined(one.differences, other.differences),
        speechProducts: joined(one.speechProducts, other.speechProducts),
      };
    }),
  };
}

/** A run over the cut is one run. */
function joinRuns(first: ZeroRuns, second: ZeroRuns): ZeroRuns {
  const over = first.last + (second.first ?? second.last);
  return {
    longest: Math.max(first.longest, second.longest, over),
    first: first.first ?? (second.first === null ? null : over),
    last: second.first === null ? over : second.last,
  };
}

function joined(first: Float64Array, second: Float64Array): Float64Array {
  const both = new Float64Array(first.length + second.length);
  both.set(first);
  both.set(second, first.length);
  return both;
}

/** The numbers that the sums of a whole clip stand for. */
export function measurementOf(sums: ClipSums): Measurement {
  const { sampleRate, frames, notFinite, channels, pairs } = sums;
  return {
    sampleRate,
    frames,
    blockSeconds: blockLength(sampleRate) / sampleRate,
    channels: channels.map((channel, c) => channelOf(channel, c, sums)),
    pairs: pairs.map((pair, p) => pairOf(pair, p, sums)),
    notFinite,
    duplicates: [],
    mixes: [],
  };
}

function channelOf(sums: ChannelSums, index: number, clip: ClipSums): ChannelMeasurement {
  const { sampleRate, frames } = clip;
  const { peak, truePeak, clippedSamples, zeroRuns, sum, power, weighted, speech } = sums;
  const count = Math.max(frames, 1);
  const loudness = loudnessOf(weighted);
  return {
    channel: index + 1,
    peak,
    truePeak,
    meanSquare: wholeOf(power, clip) / count,
    mean: sum / count,
    clippedSamples,
    longestSilenceSeconds: zeroRuns.longest / sampleRate,
    loudnessLufs: loudness.integratedLufs,
    momentaryMaxLufs: loudness.momentaryMaxLufs,
    shortTermMaxLufs: loudness.shortTermMaxLufs,
    loudnessRangeLu: loudness.rangeLu,
    blockPower: power,
    blockSpeechPower: speech,
    tone: null,
    made: null,
  };
}

function pairOf(pair: PairSeries, index: number, sums: ClipSums): PairMeasurement {
  const { products, differences, speechProducts } = pair;
  const left = sums.channels[2 * index];
  const right = sums.channels[2 * index + 1];
  return {
    channels: [2 * index + 1, 2 * index + 2],
    loudnessLufs: integratedLoudness(sumsOf(left.weighted, right.weighted)),
    product: wholeOf(products, sums),
    squares: [wholeOf(left.power, sums), wholeOf(right.power, sums)],
    differenceSquare: wholeOf(differences, sums),
    blockProduct: products,
    blockSpeechProduct: speechProducts,
    blockDifferencePower: differences,
    segments: [],
    losses: [],
  };
}

/** The sum that the means of all blocks stand for, of which the last may be shorter: the same to the digit in whatever parts a clip was metered. */
function wholeOf(means: Float64Array, { frames, sampleRate }: ClipSums): number {
  const block = blockLength(sampleRate);
  return totalOf(means, block, Math.min(block, frames - (means.length - 1) * block));
}
