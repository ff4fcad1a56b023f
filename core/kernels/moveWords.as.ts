// Moves whole sample words from input frames to output frames, for repairs that only
// pick, copy or reorder channels. Each move reads four bytes (eight for 64-bit words) and
// writes as many: for narrower words the surplus lands on the next word of the same frame or
// on the next frame, which is written after it. So moves must come in ascending output order,
// and both buffers need eight spare bytes at their end.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

/** Where in the first frame each output word comes from, in bytes; one u32 an output word. */
export function moveWords(
  input: usize, output: usize, frames: u32, inputFrameBytes: u32, wordBytes: u32, sources: usize, outputWords: u32,
): void {
  if (wordBytes == 8) return moveWide(input, output, frames, inputFrameBytes, sources, outputWords);
  if (outputWords == 1) return moveOne(input + load<u32>(sources), output, frames, inputFrameBytes, wordBytes);
  if (outputWords == 2) return moveTwo(input + load<u32>(sources), input + load<u32>(sources + 4), output, frames, inputFrameBytes, wordBytes);
  for (let i: u32 = 0; i < frames; i++) {
    for (let w: u32 = 0; w < outputWords; w++) {
      store<u32>(output, load<u32>(input + load<u32>(sources + (w << 2))));
      output += wordBytes;
    }
    input += inputFrameBytes;
  }
}

function moveOne(from: usize, output: usize, frames: u32, inputFrameBytes: u32, wordBytes: u32): void {
  for (let i: u32 = 0; i < frames; i++) {
    store<u32>(output, load<u32>(from));
    output += wordBytes;
    from += inputFrameBytes;
  }
}

function moveTwo(first: usize, second: usize, output: usize, frames: u32, inputFrameBytes: u32, wordBytes: u32): void {
  for (let i: u32 = 0; i < frames; i++) {
    store<u32>(output, load<u32>(first));
    output += wordBytes;
    store<u32>(output, load<u32>(second));
    output += wordBytes;
    first += inputFrameBytes;
    second += inputFrameBytes;
  }
}

function moveWide(
  input: usize, output: usize, frames: u32, inputFrameBytes: u32, sources: usize, outputWords: u32,
): void {
  for (let i: u32 = 0; i < frames; i++) {
    for (let w: u32 = 0; w < outputWords; w++) {
      store<u64>(output, load<u64>(input + load<u32>(sources + (w << 2))));
      output += 8;
    }
    input += inputFrameBytes;
  }
}
