// Words to pairs.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

import { placed } from '../fused.as';
import { FRAME } from './layout.as';

// As in core/pcm/decodeWords.ts: beyond it squares would overflow on their way through the filters, and no sound is that loud.
const LARGEST_FLOAT: f64 = 1e30;

// Loaded: what stands in the code as a number V8 makes anew for each frame, which took half of a loop's time.
const SCALE_16: usize = memory.data<f64>([1.0 / 32768.0]);
const SCALE_32: usize = memory.data<f64>([1.0 / 2147483648.0]);
/** Each 24-bit word goes to the upper three bytes of 32, with zeros below. */
const SPREAD_24: usize = memory.data<u8>([128, 0, 1, 2, 128, 3, 4, 5, 128, 6, 7, 8, 128, 9, 10, 11], 16);

/**
 * Decodes one pair out of interleaved words, full scale at 1.
 * `kind`: 0 unsigned 8 bit, 1 to 3 signed 16, 24 and 32 bit, 4 and 5 float 32 and 64 bit.
 * Reads up to eight bytes past the last word. Returns how many values were not finite (written as 0).
 */
export function decodePair(input: usize, kind: u32, frameBytes: u32, wordBytes: u32, frames: u32, out: usize, both: bool): u32 {
  if (both && kind >= 1 && kind <= 3) {
    if (kind == 2 && frameBytes == 6) decodeStereo24(input, frames, out);
    else if (kind == 1) decodeIntegers(input, 1, frameBytes, frames, out);
    else if (kind == 2) decodeIntegers(input, 2, frameBytes, frames, out);
    else decodeIntegers(input, 3, frameBytes, frames, out);
    return 0;
  }
  let notFinite: u32 = 0;
  for (let i: u32 = 0; i < frames; i++) {
    const left = decodeWord(input, kind);
    const right = both ? decodeWord(input + wordBytes, kind) : 0;
    if (kind >= 4) {
      const leftIsSound = abs(left) < LARGEST_FLOAT, rightIsSound = abs(right) < LARGEST_FLOAT;
      notFinite += u32(!leftIsSound) + u32(!rightIsSound);
      store<f64>(out, leftIsSound ? left : 0);
      store<f64>(out, rightIsSound ? right : 0, 8);
    } else {
      store<f64>(out, left);
      store<f64>(out, right, 8);
    }
    input += frameBytes;
    out += FRAME;
  }
  return notFinite;
}

// @ts-ignore: decorator
@inline
function decodeWord(at: usize, kind: u32): f64 {
  switch (kind) {
    case 0: return (f64(load<u8>(at)) - 128) / 128;
    case 1: return f64(load<i16>(at)) / 32768;
    case 2: return f64(i32(load<u16>(at)) | (i32(load<i8>(at, 2)) << 16)) / 8388608;
    case 3: return f64(load<i32>(at)) / 2147483648;
    case 4: return f64(load<f32>(at));
    default: return load<f64>(at);
  }
}

/** Two neighbouring words out of wider frames; with `kind` known, each use becomes a loop of its own. */
// @ts-ignore: decorator
@inline
function decodeIntegers(input: usize, kind: u32, frameBytes: u32, frames: u32, out: usize): void {
  const scale = v128.load64_splat(kind == 1 ? SCALE_16 : SCALE_32), spread = v128.load(SPREAD_24);
  const end = out + usize(frames) * FRAME;
  for (; out < end; out += FRAME) {
    let words: v128;
    if (kind == 1) words = i32x4.extend_low_i16x8_s(v128.load32_zero(input));
    else if (kind == 2) words = placed(v128.load64_zero(input), spread);
    else words = v128.load64_zero(input);
    v128.store(out, f64x2.mul(f64x2.convert_low_i32x4_s(words), scale));
    input += frameBytes;
  }
}

/** Two frames of 24-bit stereo are twelve bytes: one shuffle spreads them over four 32-bit lanes. */
function decodeStereo24(input: usize, frames: u32, out: usize): void {
  const scale = v128.load64_splat(SCALE_32), spread = v128.load(SPREAD_24);
  const end = out + usize(frames & ~3) * FRAME;
  for (; out < end; out += 4 * FRAME) {
    const first = placed(v128.load(input), spread), second = placed(v128.load(input, 12), spread);
    v128.store(out, f64x2.mul(f64x2.convert_low_i32x4_s(first), scale));
    v128.store(out, f64x2.mul(f64x2.convert_low_i32x4_s(v128.shuffle<i32>(first, first, 2, 3, 2, 3)), scale), 16);
    v128.store(out, f64x2.mul(f64x2.convert_low_i32x4_s(second), scale), 32);
    v128.store(out, f64x2.mul(f64x2.convert_low_i32x4_s(v128.shuffle<i32>(second, second, 2, 3, 2, 3)), scale), 48);
    input += 24;
  }
  for (let i = frames & ~3; i < frames; i++) {
    store<f64>(out, decodeWord(input, 2));
    store<f64>(out, decodeWord(input + 3, 2), 8);
    input += 6;
    out += FRAME;
  }
}
