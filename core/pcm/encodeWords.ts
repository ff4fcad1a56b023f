import { bytesPerSample, type SampleFormat } from './sampleFormat.ts';

/**
 * Planar values (full scale at 1) to interleaved sample words.
 * Integers are rounded after adding `dither`, in units of one step, and held at the
 * ends of their range rather than wrapped.
 * @param dither a value for each frame, shared by all channels: two channels that carry
 *   the same signal stay the same to the last bit
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
  const channels = planar.length;
  const wordBytes = bytesPerSample(format);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let at = 0;
  if (format.kind === 'float') {
    for (let i = 0; i < frames; i++) {
      for (let c = 0; c < channels; c++, at += wordBytes) {
        if (format.bits === 32) view.setFloat32(at, planar[c][i], true);
        else view.setFloat64(at, planar[c][i], true);
      }
    }
    return 0;
  }
  let held = 0;
  const scale = 2 ** (format.bits - 1);
  for (let i = 0; i < frames; i++) {
    const noise = dither();
    for (let c = 0; c < channels; c++, at += wordBytes) {
      const rounded = Math.round(planar[c][i] * scale + (dithered && !dithered[c] ? 0 : noise));
      const word = Math.max(-scale, Math.min(scale - 1, rounded));
      if (word !== rounded) held++;
      if (format.bits === 8) bytes[at] = word + 128;
      else if (format.bits === 16) view.setInt16(at, word, true);
      else if (format.bits === 24) {
        bytes[at] = word;
        bytes[at + 1] = word >> 8;
        bytes[at + 2] = word >> 16;
      } else view.setInt32(at, word, true);
    }
  }
  return held;
}
