// Words to pairs.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

import { FRAME } from './layout.as';

// As in core/pcm/decodeWords.ts: beyond it squares would overflow on their way through the filters, and no sound is that loud.
const LARGEST_FLOAT: f64 = 1e30;

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
  const scale = f64x2.splat(kind == 1 ? 1.0 / 32768.0 : 1.0 / 2147483648.0);
  const end = out + usize(frames) * FRAME;
  for (; out < end; out += FRAME) {
    let words: v128;
    if (kind == 1) words = i32x4.extend_low_i16x8_s(v128.load32_zero(input));
    else if (kind == 2) words = spread24(v128.load64_zero(input));
    else words = v128.load64_zero(input);
    v128.store(out, f64x2.mul(f64x2.convert_low_i32x4_s(words), scale));
    input += frameBytes;
  }
}

/** Each 24-bit word goes to the upper three bytes of 32, with zeros below. */
// @ts-ignore: decorator
@inline
function spread24(bytes: v128): v128 {
  return i8x16.swizzle(bytes, i8x16(-128, 0, 1, 2, -128, 3, 4, 5, -128, 6, 7, 8, -128, 9, 10, 11));
}

/** Two frames of 24-bit stereo are twelve bytes: one shuffle spreads them over four 32-bit lanes. */
function decodeStereo24(input: usize, frames: u32, out: usize): void {
  const scale = f64x2.splat(1.0 / 2147483648.0);
  let i: u32 = 0;
  for (; i + 2 <= frames; i += 2) {
    const words = spread24(v128.load(input));
    v128.store(out, f64x2.mul(f64x2.convert_low_i32x4_s(words), scale));
    v128.store(out, f64x2.mul(f64x2.convert_low_i32x4_s(v128.shuffle<i32>(words, words, 2, 3, 2, 3)), scale), 16);
    input += 12;
    out += 2 * FRAME;
  }
  if (i < frames) {
    store<f64>(out, decodeWord(input, 2));
    store<f64>(out, decodeWord(input + 3, 2), 8);
  }
}
