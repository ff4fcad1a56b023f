// Sample words to values and back, for repairs that calculate: dither, rounding and the places of interleaved words in one go.
// The plain versions are core/pcm and core/signal/dither.ts, to which tests hold these bit by bit.

// @ts-nocheck: AssemblyScript, compiled by build.mjs

/** Integer words of one channel to values, full scale at 1. @param from its first word @param step bytes from one frame to the next */
export function decode(from: usize, bits: u32, step: u32, frames: u32, out: usize): void {
  const end = out + (<usize>frames << 3);
  if (bits == 24) {
    // Read with the byte before it, which falls out again: a word of another channel, or memory before all of them.
    for (; out < end; out += 8, from += step) store<f64>(out, <f64>(load<i32>(from - 1) >> 8) * (1.0 / 8388608.0));
  } else if (bits == 16) {
    for (; out < end; out += 8, from += step) store<f64>(out, <f64>load<i16>(from) * (1.0 / 32768.0));
  } else if (bits == 32) {
    for (; out < end; out += 8, from += step) store<f64>(out, <f64>load<i32>(from) * (1.0 / 2147483648.0));
  } else {
    for (; out < end; out += 8, from += step) store<f64>(out, <f64>(<i32>load<u8>(from) - 128) * (1.0 / 128.0));
  }
}

// @ts-ignore: decorator
@inline
function mix(state: u32): u32 {
  let x = state;
  x = (x ^ (x >>> 16)) * 0x85ebca6b;
  x = (x ^ (x >>> 13)) * 0xc2b2ae35;
  return x ^ (x >>> 16);
}

/** Triangular dither, a value a frame. @returns the generator's state afterwards */
export function dither(state: u32, frames: u32, out: usize): u32 {
  const end = out + (<usize>frames << 3);
  for (; out < end; out += 8) {
    state += 0x9e3779b9;
    const first = <f64>mix(state) * (1.0 / 4294967296.0);
    state += 0x9e3779b9;
    store<f64>(out, first - <f64>mix(state) * (1.0 / 4294967296.0));
  }
  return state;
}

/** Values of one channel to integer words. @param noise 0 where it gets none @returns how many were held at the ends of the range */
export function encode(values: usize, noise: usize, frames: u32, bits: u32, to: usize, step: u32): u32 {
  const scale: f64 = bits == 24 ? 8388608.0 : bits == 16 ? 32768.0 : bits == 32 ? 2147483648.0 : 128.0;
  const least = -scale, most = scale - 1.0;
  const end = values + (<usize>frames << 3);
  let held: u32 = 0;
  for (; values < end; values += 8, to += step) {
    let value = load<f64>(values) * scale;
    if (noise != 0) {
      value += load<f64>(noise);
      noise += 8;
    }
    let rounded = Math.floor(value + 0.5);
    if (!(rounded >= least && rounded <= most)) {
      held++;
      // What is no number is silence.
      rounded = rounded > most ? most : rounded < least ? least : 0.0;
    }
    const word = <i32>rounded;
    if (bits == 24) {
      store<u16>(to, <u16>word);
      store<u8>(to, <u8>(word >> 16), 2);
    } else if (bits == 16) store<u16>(to, <u16>word);
    else if (bits == 32) store<i32>(to, word);
    else store<u8>(to, <u8>(word + 128));
  }
  return held;
}
