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
  const quick = moveSixteen(input, output, frames, inputFrameBytes, wordBytes, sources, outputWords);
  input += quick * inputFrameBytes;
  output += quick * outputWords * wordBytes;
  frames -= quick;
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

// Several frames at once, where two and more of them fit into sixteen bytes both as they come and as they go. What a step writes beyond its frames the
// next one writes over. @returns how many frames are done; the last few, whose sixteen bytes are not all there, are not
function moveSixteen(
  input: usize, output: usize, frames: u32, inputFrameBytes: u32, wordBytes: u32, sources: usize, outputWords: u32,
): u32 {
  const outputFrameBytes = outputWords * wordBytes;
  const wider = max(inputFrameBytes, outputFrameBytes);
  const step: u32 = 16 / wider;
  const narrower = min(inputFrameBytes, outputFrameBytes);
  const needed: u32 = (15 + narrower) / narrower;
  if (step < 2 || frames < needed) return 0;
  // Which byte goes where is written where the first frames go to, and read before they do.
  let at = output;
  for (let f: u32 = 0; f < step; f++)
    for (let w: u32 = 0; w < outputWords; w++)
      for (let b: u32 = 0; b < wordBytes; b++)
        store<u8>(at++, <u8>(f * inputFrameBytes + load<u32>(sources + (w << 2)) + b));
  while (at < output + 16) store<u8>(at++, 255);
  const places = v128.load(output);
  const inputStep = step * inputFrameBytes;
  const outputStep = step * outputFrameBytes;
  let done: u32 = 0;
  for (const last: u32 = frames - needed; done <= last; done += step) {
    v128.store(output, v128.swizzle(v128.load(input), places));
    input += inputStep;
    output += outputStep;
  }
  return done;
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
