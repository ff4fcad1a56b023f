const PAGE_BYTES = 65536;
const VALUE_BYTES = 8;

/**
 * A kernel's memory with a place of 64-bit floats for each length, in order; each begins on 16 bytes, as vectors do. The first page is the kernel's own, and vectors may
 * reach over the end by less than one.
 */
export function memoryFor(lengths: number[]): { memory: WebAssembly.Memory; places: Float64Array<ArrayBuffer>[] } {
  const evens = lengths.map((length) => 2 * Math.ceil(length / 2));
  const memory = new WebAssembly.Memory({
    initial: 2 + Math.ceil((evens.reduce((a, b) => a + b) * VALUE_BYTES) / PAGE_BYTES),
  });
  let at = PAGE_BYTES;
  const places = lengths.map((length, i) => {
    const place = new Float64Array(memory.buffer, at, length);
    at += evens[i] * VALUE_BYTES;
    return place;
  });
  return { memory, places };
}
