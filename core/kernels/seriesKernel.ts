import { instantiateKernel, type KernelBuilds } from './instantiateKernel.ts';
import { MemoryPlan } from './kernelMemory.ts';

type Series = Float64Array | Int32Array | Uint8Array;

/** A kernel's exports, its memory, and where what was laid there lies: what was given first, then the rooms. */
interface Laid<Exports> {
  kernel: Exports;
  buffer: ArrayBuffer;
  at: number[];
}

/** A kernel for one thing at a time: what lies in its memory is there until it is asked for the next. */
export class SeriesKernel<Exports> {
  private made: { memory: WebAssembly.Memory; exports: Exports } | null = null;

  constructor(private readonly builds: KernelBuilds) {}

  /** @param given copied into its memory, one after the other @param rooms bytes for what is made of it */
  laid(given: readonly Series[], ...rooms: number[]): Laid<Exports> {
    const plan = new MemoryPlan();
    const at: number[] = [];
    for (const { byteLength } of given) at.push(plan.claim(byteLength));
    for (const bytes of rooms) at.push(plan.claim(bytes));
    if (this.made) plan.growInto(this.made.memory);
    else {
      const memory = plan.make();
      this.made = { memory, exports: instantiateKernel<Exports>(this.builds, memory) };
    }
    const buffer = this.made.memory.buffer as ArrayBuffer;
    given.forEach((series, i) => {
      new Uint8Array(buffer, at[i]).set(new Uint8Array(series.buffer, series.byteOffset, series.byteLength));
    });
    return { kernel: this.made.exports, buffer, at };
  }
}
