import { halveRateWasm } from './halveRate.wasm.ts';
import { instantiateKernel } from './instantiateKernel.ts';
import { memoryFor } from './kernelMemory.ts';

interface HalveRateExports {
  halve(samples: number, count: number, weights: number, pairs: number, evens: number, odds: number, out: number): void;
}

const VALUE_BYTES = 8;
// Samples made at a time, a multiple of eight: with what they are made of they stay near the processor.
const MOST_AT_ONCE = 4096;
// The kernel makes so many values at a time, over the end too.
const AT_ONCE = 8;

/** Halves sample rates with one filter. */
export class RateHalver {
  private readonly kernel: HalveRateExports;
  private readonly weights: Float32Array;
  private readonly input: Float64Array;
  private readonly evens: Float64Array;
  private readonly odds: Float64Array;
  private readonly output: Float64Array;

  /** @param weights of the middle sample and of those 1, 2, 3 ... from it on both sides, rounded to single precision; an odd number of them */
  constructor(weights: Float64Array) {
    const around = weights.length - 1;
    const half = MOST_AT_ONCE + around + AT_ONCE;
    // Half of what is claimed for single values is used.
    const { memory, places } = memoryFor([weights.length, 2 * half, half, half, MOST_AT_ONCE]);
    [, this.input, this.evens, this.odds, this.output] = places;
    this.weights = new Float32Array(memory.buffer, places[0].byteOffset, weights.length);
    this.weights.set(weights);
    this.kernel = instantiateKernel<HalveRateExports>(halveRateWasm, memory);
  }

  /** Sample i of the result is at sample 2 i of the source; beyond the source's ends there is nothing. @param sound half as long, to be filled */
  halved(source: Float64Array, sound: Float64Array = new Float64Array(source.length >> 1)): Float64Array {
    const { weights, input, evens, odds, output } = this;
    const around = weights.length - 1;
    for (let start = 0; start < sound.length; start += MOST_AT_ONCE) {
      const count = Math.min(MOST_AT_ONCE, sound.length - start);
      const first = 2 * start - around;
      const piece = source.subarray(Math.max(0, first), first + input.length);
      const before = Math.max(0, -first);
      input.fill(0, 0, before);
      input.set(piece, before);
      input.fill(0, before + piece.length);
      const whole = Math.ceil(count / AT_ONCE) * AT_ONCE;
      this.kernel.halve(
        input.byteOffset + around * VALUE_BYTES,
        whole,
        weights.byteOffset,
        around / 2,
        evens.byteOffset,
        odds.byteOffset,
        output.byteOffset,
      );
      sound.set(output.subarray(0, count), start);
    }
    return sound;
  }
}
