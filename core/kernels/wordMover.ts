import { instantiateKernel } from './instantiateKernel.ts';
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
const PAGE_BYTES = 65536;

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
  private readonly sourceTables: { at: number; words: number }[] = [];

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
    const tableBytes = files.reduce((sum, channels) => sum + align(channels.length * 4), 0);
    const runBytes =
      align(framesPerRun * this.inputFrameBytes + SPARE_BYTES) +
      files.reduce((sum, channels) => sum + align(framesPerRun * channels.length * wordBytes + SPARE_BYTES), 0);
    const memory = new WebAssembly.Memory({ initial: Math.ceil((tableBytes + slots * runBytes) / PAGE_BYTES) + 1 });
    this.kernel = instantiateKernel<MoveWordsExports>(moveWordsWasm, memory);
    let at = PAGE_BYTES;
    const claim = (bytes: number): number => {
      const start = at;
      at += align(bytes);
      return start;
    };
    for (const channels of files) {
      const table = claim(channels.length * 4);
      new Uint32Array(memory.buffer, table, channels.length).set(channels.map((channel) => channel * wordBytes));
      this.sourceTables.push({ at: table, words: channels.length });
    }
    const buffer = (bytes: number): Uint8Array => new Uint8Array(memory.buffer, claim(bytes + SPARE_BYTES), bytes);
    this.inputs = Array.from({ length: slots }, () => buffer(framesPerRun * this.inputFrameBytes));
    this.outputs = Array.from({ length: slots }, () =>
      files.map((channels) => buffer(framesPerRun * channels.length * wordBytes)),
    );
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

function align(bytes: number): number {
  return Math.ceil(bytes / 16) * 16;
}
