import { decodeChannel, decodeWords } from '../pcm/decodeWords.ts';
import { encodeWords } from '../pcm/encodeWords.ts';
import { bytesPerSample, type SampleFormat } from '../pcm/sampleFormat.ts';
import { codeWordsWasm } from './codeWords.wasm.ts';
import { instantiateKernel } from './instantiateKernel.ts';
import { MemoryPlan } from './kernelMemory.ts';

interface CodeWordsExports {
  decode(from: number, bits: number, step: number, frames: number, out: number): void;
  dither(state: number, frames: number, out: number): number;
  encode(values: number, noise: number, frames: number, bits: number, to: number, step: number): number;
}

const VALUE_BYTES = 8;
const SPARE_BYTES = 8;
const NO_NOISE = 0;
// As `triangularDither` begins: the same repair gives the same file.
const FIRST_STATE = 1;

/** Words of all channels to values, in memory of its own: files are read into `inputs` without another copy. */
export class WordDecoder {
  /** By turns: one is read into while the other is decoded. */
  readonly inputs: Uint8Array[];
  readonly planes: Float64Array[];
  private readonly kernel: CodeWordsExports;

  constructor(
    private readonly words: SampleFormat,
    private readonly channels: number,
    mostFrames: number,
  ) {
    const plan = new MemoryPlan();
    const frameBytes = channels * bytesPerSample(words);
    const inputs = [0, 1].map(() => plan.claim(mostFrames * frameBytes + SPARE_BYTES));
    const planes = Array.from({ length: channels }, () => plan.claim(mostFrames * VALUE_BYTES));
    const memory = plan.make();
    this.kernel = instantiateKernel<CodeWordsExports>(codeWordsWasm, memory);
    this.inputs = inputs.map((at) => new Uint8Array(memory.buffer, at, mostFrames * frameBytes));
    this.planes = planes.map((at) => new Float64Array(memory.buffer, at, mostFrames));
  }

  /** @param input one of `inputs` */
  decode(input: Uint8Array, frames: number): void {
    const { words, channels, planes } = this;
    if (words.kind === 'float') {
      decodeWords(input, words, planes, frames);
      return;
    }
    const wordBytes = bytesPerSample(words);
    planes.forEach((plane, c) =>
      this.kernel.decode(input.byteOffset + c * wordBytes, words.bits, channels * wordBytes, frames, plane.byteOffset),
    );
  }
}

/** The words of one channel among others to values, in memory of its own: for what is read here and there. */
export class ChannelDecoder {
  /** Whole frames are read into it. */
  readonly input: Uint8Array;
  private readonly values: Float64Array;
  private readonly kernel: CodeWordsExports;

  constructor(
    private readonly words: SampleFormat,
    private readonly channels: number,
    readonly mostFrames: number,
  ) {
    const plan = new MemoryPlan();
    const bytes = mostFrames * channels * bytesPerSample(words);
    const input = plan.claim(bytes + SPARE_BYTES);
    const values = plan.claim(mostFrames * VALUE_BYTES);
    const memory = plan.make();
    this.kernel = instantiateKernel<CodeWordsExports>(codeWordsWasm, memory);
    this.input = new Uint8Array(memory.buffer, input, bytes);
    this.values = new Float64Array(memory.buffer, values, mostFrames);
  }

  /** @param channel from 0 @returns the values of the input's first frames, overwritten by the next call */
  decode(channel: number, frames: number): Float64Array {
    const { words, channels, input, values } = this;
    const wordBytes = bytesPerSample(words);
    if (words.kind === 'float') decodeChannel(input, words, channel, channels, values, frames);
    else
      this.kernel.decode(
        input.byteOffset + channel * wordBytes,
        words.bits,
        channels * wordBytes,
        frames,
        values.byteOffset,
      );
    return values.subarray(0, frames);
  }
}

/** Values to words with dither, in memory of its own. What it made of a slot stays until that slot is used again. */
export class WordEncoder {
  private readonly kernel: CodeWordsExports;
  private readonly outputs: Uint8Array[];
  private readonly values: Float64Array;
  private readonly noise: Float64Array;
  private state = FIRST_STATE;

  constructor(
    private readonly words: SampleFormat,
    private readonly channels: number,
    mostFrames: number,
    slots: number,
  ) {
    const plan = new MemoryPlan();
    const bytes = mostFrames * channels * bytesPerSample(words);
    const outputs = Array.from({ length: slots }, () => plan.claim(bytes + SPARE_BYTES));
    const values = plan.claim(mostFrames * VALUE_BYTES);
    const noise = plan.claim(mostFrames * VALUE_BYTES);
    const memory = plan.make();
    this.kernel = instantiateKernel<CodeWordsExports>(codeWordsWasm, memory);
    this.outputs = outputs.map((at) => new Uint8Array(memory.buffer, at, bytes));
    this.values = new Float64Array(memory.buffer, values, mostFrames);
    this.noise = new Float64Array(memory.buffer, noise, mostFrames);
  }

  /**
   * @param planar a run of each channel
   * @param place where in the slot it goes, in frames
   * @param dithered which channels get dither: a value for each frame, shared by all of them
   * @returns how many values lay beyond the range and are held at its end
   */
  encode(slot: number, planar: Float64Array[], place: number, dithered: readonly boolean[]): number {
    const { words, channels } = this;
    const frames = planar[0].length;
    const wordBytes = bytesPerSample(words);
    const output = this.outputs[slot];
    if (words.kind === 'float')
      return encodeWords(planar, words, output.subarray(place * channels * wordBytes), frames, () => 0, dithered);
    if (dithered.some(Boolean)) this.state = this.kernel.dither(this.state, frames, this.noise.byteOffset);
    let held = 0;
    planar.forEach((plane, c) => {
      this.values.set(plane);
      held += this.kernel.encode(
        this.values.byteOffset,
        dithered[c] ? this.noise.byteOffset : NO_NOISE,
        frames,
        words.bits,
        output.byteOffset + (place * channels + c) * wordBytes,
        channels * wordBytes,
      );
    });
    return held;
  }

  /** The words of a slot's first frames. */
  output(slot: number, frames: number): Uint8Array {
    return this.outputs[slot].subarray(0, frames * this.channels * bytesPerSample(this.words));
  }
}
