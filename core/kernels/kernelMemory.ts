const PAGE_BYTES = 65536;
const VALUE_BYTES = 8;
const VECTOR_BYTES = 16;

/**
 * The one way to share out a kernel's memory: places are claimed first, then the memory is made. Each begins on 16 bytes, as vectors do. The first page
 * is the kernel's own, and vectors may reach over the end by less than one page.
 */
export class MemoryPlan {
  private at = PAGE_BYTES;

  /** @returns where so many bytes lie */
  claim(bytes: number): number {
    const start = this.at;
    this.at += Math.ceil(bytes / VECTOR_BYTES) * VECTOR_BYTES;
    return start;
  }

  /** All of it is 0. */
  make(): WebAssembly.Memory {
    const at = idle.findIndex(({ buffer }) => buffer.byteLength === this.pages * PAGE_BYTES);
    if (at < 0) return new WebAssembly.Memory({ initial: this.pages });
    const [memory] = idle.splice(at, 1);
    new Uint8Array(memory.buffer).fill(0);
    return memory;
  }

  /** Makes a memory that is there already as large as it is to be; what looks into it is to be made anew. */
  growInto(memory: WebAssembly.Memory): void {
    const more = this.pages - memory.buffer.byteLength / PAGE_BYTES;
    if (more > 0) memory.grow(more);
  }

  private get pages(): number {
    return Math.ceil(this.at / PAGE_BYTES) + 1;
  }
}

// What measures one clip after another has memory of one size, which is long in being made and in being freed.
const MOST_IDLE = 2;
const idle: WebAssembly.Memory[] = [];

/** Memory that nobody looks into any more: whoever wants as much next is given it. */
export function giveBack(memory: WebAssembly.Memory): void {
  if (idle.length < MOST_IDLE && !idle.includes(memory)) idle.push(memory);
}

/** A kernel's memory with a place of 64-bit floats for each length, in order. */
export function memoryFor(lengths: number[]): { memory: WebAssembly.Memory; places: Float64Array<ArrayBuffer>[] } {
  const plan = new MemoryPlan();
  const starts = lengths.map((length) => plan.claim(length * VALUE_BYTES));
  const memory = plan.make();
  return { memory, places: lengths.map((length, i) => new Float64Array(memory.buffer, starts[i], length)) };
}
