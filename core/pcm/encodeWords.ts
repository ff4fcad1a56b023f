import { bytesPerSample, type SampleFormat } from './sampleFormat.ts';

/**
 * Planar values (full scale at 1) to interleaved sample words.
 * Integers are rounded after adding `dither`, in units of one step, and held at the
 * ends of their range rather than wrapped.
 * @param dither a value for each frame, shared by all channels: two channels that carry
 *   the same signal stay the same to the last bit. Not asked where no channel gets it
 * @param dithered which channels get it; all, where that is not said
 * @returns how many values lay beyond the range and are held at its end
 */
export function encodeWords(
  planar: Float64Array[],
  format: SampleFormat,
  bytes: Uint8Array,
  frames: number,
  dither: () => number,
  dithered?: readonly boolean[],
): number {
  const step = planar.length * bytesPerSample(format);
  if (format.kind === 'float') {
    const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    planar.forEach((values, c) => encodeFloats(values, format.bits, view, (c * step) / planar.length, step, frames));
    return 0;
  }
  const steady = new Float64Array(frames);
  const noise = dithered?.every((gets) => !gets) ? steady : new Float64Array(frames);
  if (noise !== steady) for (let i = 0; i < frames; i++) noise[i] = dither();
  let held = 0;
  planar.forEach((values, c) => {
    const words = new Int32Array(frames);
    held += quantise(values, dithered && !dithered[c] ? steady : noise, 2 ** (format.bits - 1), words);
    place(words, format.bits, bytes, (c * step) / planar.length, step);
  });
  return held;
}

function encodeFloats(
  values: Float64Array,
  bits: number,
  view: DataView,
  first: number,
  step: number,
  frames: number,
): void {
  for (let i = 0, at = first; i < frames; i++, at += step) {
    if (bits === 32) view.setFloat32(at, values[i], true);
    else view.setFloat64(at, values[i], true);
  }
}

/** @returns how many were held */
function quantise(values: Float64Array, noise: Float64Array, scale: number, words: Int32Array): number {
  const least = -scale;
  const most = scale - 1;
  let held = 0;
  for (let i = 0; i < words.length; i++) {
    const rounded = Math.floor(values[i] * scale + noise[i] + 0.5);
    if (rounded >= least && rounded <= most) words[i] = rounded;
    else {
      // What is no number is silence.
      words[i] = rounded > most ? most : rounded < least ? least : 0;
      held++;
    }
  }
  return held;
}

/** Puts the words of one channel where they belong among those of the others. */
function place(words: Int32Array, bits: number, bytes: Uint8Array, first: number, step: number): void {
  const { length } = words;
  if (bits === 8) for (let i = 0, at = first; i < length; i++, at += step) bytes[at] = words[i] + 128;
  else if (bits === 16)
    for (let i = 0, at = first; i < length; i++, at += step) {
      bytes[at] = words[i];
      bytes[at + 1] = words[i] >> 8;
    }
  else if (bits === 24)
    for (let i = 0, at = first; i < length; i++, at += step) {
      const word = words[i];
      bytes[at] = word;
      bytes[at + 1] = word >> 8;
      bytes[at + 2] = word >> 16;
    }
  else
    for (let i = 0, at = first; i < length; i++, at += step) {
      const word = words[i];
      bytes[at] = word;
      bytes[at + 1] = word >> 8;
      bytes[at + 2] = word >> 16;
      bytes[at + 3] = word >> 24;
    }
}
