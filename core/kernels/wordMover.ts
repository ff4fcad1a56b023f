import { instantiateKernel } from './instantiateKernel.ts';
import { MemoryPlan } from './kernelMemory.ts';
import { moveWordsWasm } from './moveWords.wasm.ts';

interface MoveWordsExports {
  moveWords(
    input: number,
    output: number,
    frames: number,
    inputFrameBytes: number,
    wordBytes: number,
    sources: number,
    outputWords: number,
  ): void;
}

const SPARE_BYTES = 8;

/**
 * Moves sample words from an input buffer to output buffers without looking inside them.
 * The buffers belong to the mover, so that files can be read into and written from them
 * without another copy.
 */
export class WordMover {
  /** Each slot holds one run of input frames; two slots let one be read while the other is written. */
  readonly inputs: Uint8Array[];
  /** `outputs[slot][file]` */
  readonly outputs: Uint8Array[][];
  private readonly kernel: MoveWordsExports;
  private readonly inputFrameBytes: number;
  private readonly sourceTables: { at: number; words: number }[];

  /**
   * @param files for each output file, the input channel (from 0) that feeds each of its channels
   */
  constructor(
    private readonly wordBytes: number,
    inputChannels: number,
    files: number[][],
    readonly framesPerRun: number,
    slots: number,
  ) {
    this.inputFrameBytes = inputChannels * wordBytes;
    const plan = new MemoryPlan();
    const place = (bytes: number) => ({ at: plan.claim(bytes + SPARE_BYTES), bytes });
    this.sourceTables = files.map((channels) => ({ at: plan.claim(channels.length * 4), words: channels.length }));
    const inputs = Array.from({ length: slots }, () => place(framesPerRun * this.inputFrameBytes));
    const outputs = Array.from({ length: slots }, () =>
      files.map((channels) => place(framesPerRun * channels.length * wordBytes)),
    );
    const memory = plan.make();
    this.kernel = instantiateKernel<MoveWordsExports>(moveWordsWasm, memory);
    files.forEach((channels, file) =>
      new Uint32Array(memory.buffer, this.sourceTables[file].at, channels.length).set(
        channels.map((channel) => channel * wordBytes),
      ),
    );
    const view = ({ at, bytes }: ReturnType<typeof place>): Uint8Array => new Uint8Array(memory.buffer, at, bytes);
    this.inputs = inputs.map(view);
    this.outputs = outputs.map((slot) => slot.map(view));
  }

  /** Moves the first `frames` frames of a slot into all its outputs. */
  move(slot: number, frames: number): void {
    this.outputs[slot].forEach((output, file) => {
      const table = this.sourceTables[file];
      this.kernel.moveWords(
        this.inputs[slot].byteOffset,
        output.byteOffset,
        frames,
        this.inputFrameBytes,
        this.wordBytes,
        table.at,
        table.words,
      );
    });
  }
}
