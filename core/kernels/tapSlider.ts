import { instantiateKernel } from './instantiateKernel.ts';
import { memoryFor } from './kernelMemory.ts';
import { slideTapsWasm } from './slideTaps.wasm.ts';

interface SlideTapsExports {
  slide(samples: number, taps: number, count: number, frames: number, out: number): void;
}

// Frames made at a time, a multiple of eight: with what they are made of they stay near the processor.
const MOST_AT_ONCE = 2048;

/** Slides one short filter over a sound. */
export class TapSlider {
  private readonly kernel: SlideTapsExports;
  private readonly taps: Float64Array;
  private readonly input: Float64Array;
  private readonly output: Float64Array;

  constructor(taps: Float64Array) {
    const { memory, places } = memoryFor([taps.length, MOST_AT_ONCE + taps.length, MOST_AT_ONCE]);
    [this.taps, this.input, this.output] = places;
    this.taps.set(taps);
    this.kernel = instantiateKernel<SlideTapsExports>(slideTapsWasm, memory);
  }

  /** out[i] = the sum over k of taps[k] x[i + k]. @param samples at least `frames` + taps − 1 values */
  slide(samples: Float64Array, out: Float64Array, frames: number): void {
    const { kernel, taps, input, output } = this;
    for (let start = 0; start < frames; start += MOST_AT_ONCE) {
      const count = Math.min(MOST_AT_ONCE, frames - start);
      input.set(samples.subarray(start, start + count + taps.length - 1));
      kernel.slide(input.byteOffset, taps.byteOffset, taps.length, Math.ceil(count / 8) * 8, output.byteOffset);
      out.set(output.subarray(0, count), start);
    }
  }
}
