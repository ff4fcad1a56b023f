import { bytesPerSample, largestValue, type SampleFormat } from '../pcm/sampleFormat.ts';
import type { BiquadCoefficients } from '../signal/biquad.ts';
import { TRUE_PEAK_BOUNDS, TRUE_PEAK_PHASES, TRUE_PEAK_TAPS } from '../signal/truePeakFilter.ts';
import { instantiateKernel } from './instantiateKernel.ts';
import { MemoryPlan } from './kernelMemory.ts';
import { meterBlockWasm } from './meterBlock.wasm.ts';

interface MeterBlockExports {
  decodePair(
    input: number,
    kind: number,
    frameBytes: number,
    wordBytes: number,
    frames: number,
    out: number,
    both: boolean,
  ): number;
  scanPair(
    block: number,
    frames: number,
    state: number,
    sums: number,
    ceiling: number,
    both: boolean,
    bucketFrames: number,
    buckets: number,
    bucketBytes: number,
    differenceAt: number,
    taps: number,
  ): number;
  writeBucket(state: number, both: boolean, out: number, differenceAt: number): void;
  weightPair(block: number, frames: number, coefficients: number, state: number, sums: number): void;
  weightFrame(at: number, coefficients: number, state: number, sums: number): void;
  speechPair(block: number, frames: number, step: number, coefficients: number, state: number, sums: number): void;
  truePeakPair(block: number, frames: number, state: number, taps: number): void;
}

const FRAME_BYTES = 16;
const HISTORY_FRAMES = TRUE_PEAK_TAPS - 1;
const INPUT_BYTES = 1 << 17;
const SPARE_BYTES = 16;
/** Frames in a bucket of the outline's finest level. */
export const BUCKET_FRAMES = 256;
const VALUE_BYTES = 8;

// The layout of one pair's state and of its block sums, as meterBlock/ has them (in 64-bit values).
const SCAN_VALUES = 24;
const FILTER_VALUES = 22;
// Places in the coefficients (values) and in the filters' state (vectors) from which on the speech band has its own.
const SPEECH_COEFFICIENTS = 6;
const SPEECH_STATE = 7;
const COEFFICIENTS = 10;
const SUM_VALUES = 13;
// Places in the scan state.
const PEAK = 0;
const ZERO_RUN = 14;
const LONGEST_ZERO_RUN = 16;
const FIRST_ZERO_RUN = 18;
const TRUE_PEAK = 20;
const NO_RUN = -1;

/** Sums over one block of a pair; [left, right] where there are two. A missing right side is zeros. */
export interface PairSums {
  sum: [number, number];
  squares: [number, number];
  /** After the K-weighting of BS.1770. */
  weighted: [number, number];
  /** In the speech band. */
  speech: [number, number];
  product: number;
  differenceSquares: number;
  speechProduct: number;
  /** Samples in runs of three or more at full scale. */
  clipped: [number, number];
}

/** Over all blocks since the totals were last forgotten. */
export interface ChannelTotals {
  peak: number;
  truePeak: number;
  zeroRuns: ZeroRuns;
}

/** Runs of samples that are exactly zero: the longest, the one that all began with (null where all was zero), and the one it ends with. */
export interface ZeroRuns {
  longest: number;
  first: number | null;
  last: number;
}

/** The filters a block is measured through. */
export interface MeterFilters {
  /** The K-weighting's two sections (BS.1770-5, annex 1); the high-pass has the numerator 1 -2 1. */
  shelf: BiquadCoefficients;
  highPass: BiquadCoefficients;
  /** A high-pass and a low-pass at the rate divided by `speechStep`, which must divide a block. */
  speech: [BiquadCoefficients, BiquadCoefficients];
  speechStep: number;
}

/** Takes finished outline buckets: for each bucket and lane minimum, maximum and sum of squares. Valid during the call. */
export type BucketTaker = (values: Float64Array, buckets: number, framesInLast: number) => void;

/** Decodes blocks of words and meters them in WebAssembly; the numbers come out block by block. */
export class BlockMeter {
  readonly pairs: number;
  /** Two places for the bytes that are pushed: what lies there already is not copied. */
  readonly inputs: Uint8Array[];
  notFinite = 0;
  private readonly kernel: MeterBlockExports;
  private readonly memory: WebAssembly.Memory;
  private readonly lanes: number;
  private readonly frameBytes: number;
  private readonly kind: number;
  private readonly ceiling: number;
  private readonly coefficientsAt: number;
  private readonly tapsAt: number;
  private readonly bucketsAt: number;
  private readonly pairAt: { block: number; scan: number; filter: number; sums: number; sumValues: Float64Array }[];
  private readonly weightedScale: number;
  private readonly speechScale: number;
  private gathered = 0;
  private finishedBuckets = 0;

  /** @param bucketFrames frames that the first outline bucket lacks, where the first frame lies inside a bucket */
  constructor(
    words: SampleFormat,
    private readonly channels: number,
    readonly blockFrames: number,
    private readonly filters: MeterFilters,
    private bucketFrames = 0,
  ) {
    this.pairs = Math.ceil(channels / 2);
    this.lanes = channels + Math.floor(channels / 2);
    this.frameBytes = channels * bytesPerSample(words);
    this.kind = words.kind === 'float' ? (words.bits === 32 ? 4 : 5) : words.bits / 8 - 1;
    this.ceiling = largestValue(words);
    const plan = new MemoryPlan();
    const claim = (bytes: number): number => plan.claim(bytes);
    const inputBytes = Math.max(1, Math.floor(INPUT_BYTES / this.frameBytes)) * this.frameBytes;
    const inputsAt = [claim(inputBytes + SPARE_BYTES), claim(inputBytes + SPARE_BYTES)];
    this.coefficientsAt = claim(COEFFICIENTS * VALUE_BYTES);
    this.tapsAt = claim(26 * FRAME_BYTES);
    // What one input can finish, the frames of an open block before it included.
    const mostBuckets = Math.ceil((blockFrames + inputBytes / this.frameBytes) / BUCKET_FRAMES) + 1;
    this.bucketsAt = claim(mostBuckets * this.lanes * 3 * VALUE_BYTES);
    const places = Array.from({ length: this.pairs }, () => ({
      block: claim((HISTORY_FRAMES + blockFrames) * FRAME_BYTES) + HISTORY_FRAMES * FRAME_BYTES,
      scan: claim(SCAN_VALUES * VALUE_BYTES),
      filter: claim(FILTER_VALUES * VALUE_BYTES),
      sums: claim(SUM_VALUES * VALUE_BYTES),
    }));
    this.memory = plan.make();
    this.inputs = inputsAt.map((inputAt) => new Uint8Array(this.memory.buffer, inputAt, inputBytes));
    this.pairAt = places.map((place) => ({ ...place, sumValues: this.values(place.sums, SUM_VALUES) }));
    this.kernel = instantiateKernel<MeterBlockExports>(meterBlockWasm, this.memory);
    const { shelf, highPass, speech } = filters;
    this.values(this.coefficientsAt, COEFFICIENTS).set([
      ...gainsBeside(shelf),
      shelf.a1,
      shelf.a2,
      highPass.a1,
      highPass.a2,
      ...speech.flatMap(({ a1, a2 }) => [a1, a2]),
    ]);
    this.weightedScale = shelf.b0 ** 2;
    this.speechScale = (speech[0].b0 * speech[1].b0) ** 2 / filters.speechStep;
    this.values(this.tapsAt, 51).set([...mirroredTaps().flatMap((tap) => [tap, tap]), ...TRUE_PEAK_BOUNDS]);
    this.forgetTotals();
  }

  /**
   * @param bytes whole frames of interleaved words
   * @param onBlock called whenever a block is full; read it with `sumsOf`
   */
  push(bytes: Uint8Array, onBlock: (frames: number) => void, onBuckets?: BucketTaker): void {
    if (bytes.buffer === this.memory.buffer) return this.take(bytes, onBlock, onBuckets);
    const [input] = this.inputs;
    for (let start = 0; start < bytes.length; start += input.length) {
      const run = bytes.subarray(start, start + input.length);
      input.set(run);
      this.take(input.subarray(0, run.length), onBlock, onBuckets);
    }
  }

  private take(input: Uint8Array, onBlock: (frames: number) => void, onBuckets?: BucketTaker): void {
    const frames = input.length / this.frameBytes;
    for (let done = 0; done < frames;) {
      const count = Math.min(this.blockFrames - this.gathered, frames - done);
      this.decode(input.byteOffset + done * this.frameBytes, count);
      done += count;
      if (this.gathered === this.blockFrames) this.measure(onBlock);
    }
    this.passOn(onBuckets);
  }

  /** Measures what is left over and closes the last bucket. */
  finish(onBlock: (frames: number) => void, onBuckets?: BucketTaker): void {
    if (this.gathered > 0) this.measure(onBlock);
    this.passOn(onBuckets);
    if (onBuckets && this.bucketFrames > 0) {
      this.pairAt.forEach(({ scan }, p) =>
        this.kernel.writeBucket(scan, this.hasBoth(p), this.bucketAt(p), this.differenceAt(p)),
      );
      onBuckets(this.values(this.bucketsAt, this.lanes * 3), 1, this.bucketFrames);
    }
  }

  /** After the end of a clip, lets the interpolation run out over silence. */
  runOut(): void {
    for (const { block, scan } of this.pairAt) {
      this.values(block, HISTORY_FRAMES * 2).fill(0);
      this.kernel.truePeakPair(block, HISTORY_FRAMES, scan, this.tapsAt);
    }
  }

  /** Starts the totals anew; filters and runs go on. */
  forgetTotals(): void {
    this.notFinite = 0;
    for (const { scan } of this.pairAt) {
      const state = this.values(scan, SCAN_VALUES);
      state.fill(0, PEAK, PEAK + 2);
      state.fill(0, ZERO_RUN, ZERO_RUN + 4);
      state.fill(NO_RUN, FIRST_ZERO_RUN, FIRST_ZERO_RUN + 2);
      state.fill(0, TRUE_PEAK, TRUE_PEAK + 2);
    }
  }

  /** The block measured last. */
  sumsOf(pair: number): PairSums {
    const values = this.pairAt[pair].sumValues;
    const weighted = this.weightedScale;
    const speech = this.speechScale;
    return {
      sum: [values[0], values[1]],
      squares: [values[2], values[3]],
      product: values[4],
      differenceSquares: values[5],
      weighted: [values[6] * weighted, values[7] * weighted],
      speech: [values[8] * speech, values[9] * speech],
      speechProduct: values[10] * speech,
      clipped: [values[11], values[12]],
    };
  }

  /** @param channel from 0 */
  totalsOf(channel: number): ChannelTotals {
    const { scan } = this.pairAt[channel >> 1];
    const lane = channel & 1;
    const state = this.values(scan, SCAN_VALUES);
    return {
      peak: state[PEAK + lane],
      truePeak: state[TRUE_PEAK + lane],
      zeroRuns: {
        longest: state[LONGEST_ZERO_RUN + lane],
        first: state[FIRST_ZERO_RUN + lane] === NO_RUN ? null : state[FIRST_ZERO_RUN + lane],
        last: state[ZERO_RUN + lane],
      },
    };
  }

  private decode(from: number, frames: number): void {
    const wordBytes = this.frameBytes / this.channels;
    this.pairAt.forEach(({ block }, p) => {
      this.notFinite += this.kernel.decodePair(
        from + 2 * p * wordBytes,
        this.kind,
        this.frameBytes,
        wordBytes,
        frames,
        block + this.gathered * FRAME_BYTES,
        this.hasBoth(p),
      );
    });
    this.gathered += frames;
  }

  private measure(onBlock: (frames: number) => void): void {
    const frames = this.gathered;
    const bucketBytes = this.lanes * 3 * VALUE_BYTES;
    let open = 0;
    this.pairAt.forEach(({ block, scan, filter, sums }, p) => {
      open = this.kernel.scanPair(
        block,
        frames,
        scan,
        sums,
        this.ceiling,
        this.hasBoth(p),
        this.bucketFrames,
        this.bucketAt(p) + this.finishedBuckets * bucketBytes,
        bucketBytes,
        this.differenceAt(p),
        this.tapsAt,
      );
      this.kernel.speechPair(
        block,
        frames,
        this.filters.speechStep,
        this.coefficientsAt + SPEECH_COEFFICIENTS * VALUE_BYTES,
        filter + SPEECH_STATE * FRAME_BYTES,
        sums,
      );
      const even = frames & ~1;
      this.kernel.weightPair(block, even, this.coefficientsAt, filter, sums);
      if (even < frames) this.kernel.weightFrame(block + even * FRAME_BYTES, this.coefficientsAt, filter, sums);
      // The end of this block is the history of the next.
      const values = this.values(block - HISTORY_FRAMES * FRAME_BYTES, (HISTORY_FRAMES + frames) * 2);
      values.copyWithin(0, frames * 2);
    });
    this.finishedBuckets += (this.bucketFrames + frames - open) / BUCKET_FRAMES;
    this.bucketFrames = open;
    this.gathered = 0;
    onBlock(frames);
  }

  private passOn(onBuckets?: BucketTaker): void {
    const buckets = this.finishedBuckets;
    this.finishedBuckets = 0;
    if (onBuckets && buckets > 0)
      onBuckets(this.values(this.bucketsAt, buckets * this.lanes * 3), buckets, BUCKET_FRAMES);
  }

  private hasBoth(pair: number): boolean {
    return 2 * pair + 1 < this.channels;
  }

  private bucketAt(pair: number): number {
    return this.bucketsAt + 2 * pair * 3 * VALUE_BYTES;
  }

  /** From a pair's left lane to its difference: lanes are the channels in order, then the pairs. */
  private differenceAt(pair: number): number {
    return (this.channels + pair - 2 * pair) * 3 * VALUE_BYTES;
  }

  private values(at: number, count: number): Float64Array {
    return new Float64Array(this.memory.buffer, at, count);
  }
}

/** What a section adds to its input where it has b0 at 1: how much of the input one sample before, and of the one before that as a share of it. */
function gainsBeside({ b0, b1, b2, a1, a2 }: BiquadCoefficients): [number, number] {
  const once = b1 / b0 - a1;
  return [once, (b2 / b0 - a2) / once];
}

/** Half the sum and half the difference of each tap and its mirror, oldest sample first, for the first two phases. */
function mirroredTaps(): number[] {
  const [first, second] = TRUE_PEAK_PHASES.map((taps) => [...taps].reverse());
  return Array.from({ length: TRUE_PEAK_TAPS / 2 }, (_, k) =>
    [first, second].flatMap((taps) => {
      const mirror = taps[TRUE_PEAK_TAPS - 1 - k];
      return [(taps[k] + mirror) / 2, (taps[k] - mirror) / 2];
    }),
  ).flat();
}
