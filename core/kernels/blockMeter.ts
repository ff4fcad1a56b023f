import { bytesPerSample, largestValue, type SampleFormat } from '../pcm/sampleFormat.ts';
import type { BiquadCoefficients } from '../signal/biquad.ts';
import { TRUE_PEAK_BOUNDS, TRUE_PEAK_PHASES, TRUE_PEAK_TAPS } from '../signal/truePeakFilter.ts';
import { instantiateKernel } from './instantiateKernel.ts';
import { giveBack, MemoryPlan } from './kernelMemory.ts';
import { meterBlockWasm } from './meterBlock.wasm.ts';

interface MeterBlockExports {
  meterRun(meter: number, input: number, frames: number): void;
  finishRun(meter: number): number;
  runOut(meter: number): void;
}

const FRAME_BYTES = 16;
const INPUT_BYTES = 1 << 19;
const SPARE_BYTES = 16;
/** What is pushed at once holds no more blocks. */
export const MOST_BLOCKS_A_RUN = 24;
// So many finished blocks are waited for before they are passed on: a minute and a half of 100 ms.
const BLOCKS_TOGETHER = 1024;
/** Frames in a bucket of the outline's finest level. */
export const BUCKET_FRAMES = 256;
const VALUE_BYTES = 8;
// What is measured at once, so that all loops over it find it in the processor's nearest memory (16 kB a pair).
const PIECE_FRAMES = 1024;

// The layout of one pair's place and of the meter's own values, as meterBlock/ has them.
const SCAN_VALUES = 24;
const BLOCK_AT = 608;
const COEFFICIENTS = 10;
const SUM_VALUES = 13;
const METER_BYTES = 104;
// Places in the scan state.
const PEAK = 0;
const ZERO_RUN = 14;
const LONGEST_ZERO_RUN = 16;
const FIRST_ZERO_RUN = 18;
const TRUE_PEAK = 20;
const NO_RUN = -1;
// Places in the meter's values: 64-bit from the first, 32-bit from the second on.
const SCALES = 7;
const OPEN_BUCKET_FRAMES = 22;
const BUCKETS = 23;
const BLOCKS = 24;
const NOT_FINITE = 25;

/** Of finished blocks of a pair, one value a block; [left, right] where there are two. A missing right side is zeros. Views, valid until the next push. */
export interface PairBlocks {
  /** Sums of the samples; all else but `clipped` are means over a block. */
  sums: [Float64Array, Float64Array];
  powers: [Float64Array, Float64Array];
  /** After the K-weighting of BS.1770. */
  weighted: [Float64Array, Float64Array];
  /** In the speech band. */
  speech: [Float64Array, Float64Array];
  products: Float64Array;
  differences: Float64Array;
  speechProducts: Float64Array;
  /** Samples in runs of three or more at full scale. */
  clipped: [Float64Array, Float64Array];
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

/** Decodes blocks of words and meters them in WebAssembly; the numbers come out some blocks at a time. */
export class BlockMeter {
  readonly pairs: number;
  /** Two places for the bytes that are pushed: what lies there already is not copied. */
  readonly inputs: Uint8Array[];
  private readonly kernel: MeterBlockExports;
  private readonly memory: WebAssembly.Memory;
  private readonly frameBytes: number;
  private readonly bucketValues: number;
  private readonly bucketsAt: number;
  private readonly meterAt: number;
  private readonly counts: Int32Array;
  private readonly columns: Float64Array[];
  private readonly scans: Float64Array[];

  /** @param openBucketFrames frames that the first outline bucket lacks, where the first frame lies inside a bucket */
  constructor(words: SampleFormat, channels: number, blockFrames: number, filters: MeterFilters, openBucketFrames = 0) {
    const wordBytes = bytesPerSample(words);
    this.pairs = Math.ceil(channels / 2);
    this.frameBytes = channels * wordBytes;
    this.bucketValues = (channels + Math.floor(channels / 2)) * 3;
    const inputFrames = Math.max(
      1,
      Math.min(Math.floor(INPUT_BYTES / this.frameBytes), MOST_BLOCKS_A_RUN * blockFrames),
    );
    const mostBlocks = BLOCKS_TOGETHER + MOST_BLOCKS_A_RUN + 1;
    // The frames of an open block before it included.
    const mostBuckets = Math.ceil((blockFrames + inputFrames) / BUCKET_FRAMES) + 1;
    const plan = new MemoryPlan();
    const claim = (bytes: number): number => plan.claim(bytes);
    const inputsAt = [0, 1].map(() => claim(inputFrames * this.frameBytes + SPARE_BYTES));
    const coefficientsAt = claim(COEFFICIENTS * VALUE_BYTES);
    const tapsAt = claim(26 * FRAME_BYTES);
    this.bucketsAt = claim(mostBuckets * this.bucketValues * VALUE_BYTES);
    const columnsAt = claim(this.pairs * SUM_VALUES * mostBlocks * VALUE_BYTES);
    this.meterAt = claim(METER_BYTES);
    const pairBytes = BLOCK_AT + blockFrames * FRAME_BYTES;
    const pairsAt = claim(this.pairs * pairBytes);
    this.memory = plan.make();
    const { buffer } = this.memory;
    this.inputs = inputsAt.map((inputAt) => new Uint8Array(buffer, inputAt, inputFrames * this.frameBytes));
    this.columns = Array.from(
      { length: this.pairs * SUM_VALUES },
      (_, c) => new Float64Array(buffer, columnsAt + c * mostBlocks * VALUE_BYTES, mostBlocks),
    );
    this.scans = Array.from(
      { length: this.pairs },
      (_, p) => new Float64Array(buffer, pairsAt + p * pairBytes, SCAN_VALUES),
    );
    this.kernel = instantiateKernel<MeterBlockExports>(meterBlockWasm, this.memory);
    const { shelf, highPass, speech, speechStep } = filters;
    this.values(coefficientsAt, COEFFICIENTS).set([
      ...gainsBeside(shelf),
      shelf.a1,
      shelf.a2,
      highPass.a1,
      highPass.a2,
      ...speech.flatMap(({ a1, a2 }) => [a1, a2]),
    ]);
    this.values(tapsAt, 51).set([...mirroredTaps().flatMap((tap) => [tap, tap]), ...TRUE_PEAK_BOUNDS]);
    // Each piece holds whole steps of the speech band, and four frames so many times.
    const pieceStep = 4 * speechStep;
    this.counts = new Int32Array(buffer, this.meterAt, METER_BYTES / 4);
    this.counts.set([
      words.kind === 'float' ? (words.bits === 32 ? 4 : 5) : words.bits / 8 - 1,
      this.frameBytes,
      wordBytes,
      channels,
      blockFrames,
      Math.max(1, Math.floor(PIECE_FRAMES / pieceStep)) * pieceStep,
      speechStep,
      pairsAt,
      pairBytes,
      coefficientsAt,
      tapsAt,
      this.bucketsAt,
      columnsAt,
      mostBlocks,
    ]);
    this.values(this.meterAt, SCALES + 3).set(
      [largestValue(words), shelf.b0 ** 2, (speech[0].b0 * speech[1].b0) ** 2 / speechStep],
      SCALES,
    );
    this.counts[OPEN_BUCKET_FRAMES] = openBucketFrames;
    this.forget();
  }

  /**
   * @param bytes whole frames of interleaved words
   * @param onBlocks called whenever many blocks are finished; read them with `blocksOf`
   */
  push(bytes: Uint8Array, onBlocks: () => void, onBuckets?: BucketTaker): void {
    if (bytes.buffer === this.memory.buffer) return this.take(bytes, onBlocks, onBuckets);
    const [input] = this.inputs;
    for (let start = 0; start < bytes.length; start += input.length) {
      const run = bytes.subarray(start, start + input.length);
      input.set(run);
      this.take(input.subarray(0, run.length), onBlocks, onBuckets);
    }
  }

  private take(input: Uint8Array, onBlocks: () => void, onBuckets?: BucketTaker): void {
    this.kernel.meterRun(this.meterAt, input.byteOffset, input.length / this.frameBytes);
    if (this.counts[BLOCKS] >= BLOCKS_TOGETHER) this.passBlocks(onBlocks);
    this.passBuckets(BUCKET_FRAMES, onBuckets);
  }

  /** Measures what is left over and closes the last bucket. */
  finish(onBlocks: () => void, onBuckets?: BucketTaker): void {
    const framesInLast = this.kernel.finishRun(this.meterAt);
    this.passBlocks(onBlocks);
    this.passBuckets(framesInLast || BUCKET_FRAMES, onBuckets);
  }

  /** After the end of a clip, lets the interpolation run out over silence. */
  runOut(): void {
    this.kernel.runOut(this.meterAt);
  }

  /** Nothing of it is read or called afterwards. */
  end(): void {
    giveBack(this.memory);
  }

  /** Starts the totals anew and drops the blocks that were not passed on; filters and runs go on. */
  forget(): void {
    this.counts[NOT_FINITE] = this.counts[BLOCKS] = 0;
    for (const state of this.scans) {
      state.fill(0, PEAK, PEAK + 2);
      state.fill(0, ZERO_RUN, ZERO_RUN + 4);
      state.fill(NO_RUN, FIRST_ZERO_RUN, FIRST_ZERO_RUN + 2);
      state.fill(0, TRUE_PEAK, TRUE_PEAK + 2);
    }
  }

  /** Words that are no numbers, since the totals were last forgotten. */
  get notFinite(): number {
    return this.counts[NOT_FINITE];
  }

  /** The blocks that were finished since they were last passed on. */
  blocksOf(pair: number): PairBlocks {
    const blocks = this.counts[BLOCKS];
    const [sumLeft, sumRight, left, right, products, differences, ...others] = this.columns
      .slice(pair * SUM_VALUES, (pair + 1) * SUM_VALUES)
      .map((column) => column.subarray(0, blocks));
    const [weightedLeft, weightedRight, speechLeft, speechRight, speechProducts, clippedLeft, clippedRight] = others;
    return {
      sums: [sumLeft, sumRight],
      powers: [left, right],
      products,
      differences,
      weighted: [weightedLeft, weightedRight],
      speech: [speechLeft, speechRight],
      speechProducts,
      clipped: [clippedLeft, clippedRight],
    };
  }

  /** @param channel from 0 */
  totalsOf(channel: number): ChannelTotals {
    const state = this.scans[channel >> 1];
    const lane = channel & 1;
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

  private passBlocks(onBlocks: () => void): void {
    if (this.counts[BLOCKS] > 0) onBlocks();
    this.counts[BLOCKS] = 0;
  }

  private passBuckets(framesInLast: number, onBuckets?: BucketTaker): void {
    const buckets = this.counts[BUCKETS];
    this.counts[BUCKETS] = 0;
    if (onBuckets && buckets > 0)
      onBuckets(this.values(this.bucketsAt, buckets * this.bucketValues), buckets, framesInLast);
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
