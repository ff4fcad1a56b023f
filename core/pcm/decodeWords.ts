import { bytesPerSample, type SampleFormat } from './sampleFormat.ts';

// Beyond it (+600 dBFS) squares would overflow on their way through the filters; it counts as not finite.
const LARGEST_FLOAT = 1e30;

/**
 * Interleaved sample words to planar values, full scale at 1.
 * @param bytes whole frames only; any byte offset
 * @param planar one array a channel, each at least `frames` long
 * @returns how many values were not finite (float formats only); they are written as 0
 */
export function decodeWords(
  bytes: Uint8Array,
  format: SampleFormat,
  planar: (Float64Array | Float32Array)[],
  frames: number,
): number {
  let notFinite = 0;
  for (let c = 0; c < planar.length; c++)
    notFinite += decodeChannel(bytes, format, c, planar.length, planar[c], frames);
  return notFinite;
}

/** The same for one channel (from 0) of several. */
export function decodeChannel(
  bytes: Uint8Array,
  format: SampleFormat,
  channel: number,
  channels: number,
  out: Float64Array | Float32Array,
  frames: number,
): number {
  const first = channel * bytesPerSample(format);
  const step = channels * bytesPerSample(format);
  if (format.kind === 'float') return decodeFloat(bytes, format.bits, first, step, out, frames);
  switch (format.bits) {
    case 8:
      for (let i = 0, at = first; i < frames; i++, at += step) out[i] = (bytes[at] - 128) / 128;
      break;
    case 16:
      for (let i = 0, at = first; i < frames; i++, at += step) {
        out[i] = (((bytes[at] | (bytes[at + 1] << 8)) << 16) >> 16) / 32768;
      }
      break;
    case 24:
      for (let i = 0, at = first; i < frames; i++, at += step) {
        out[i] = (((bytes[at] << 8) | (bytes[at + 1] << 16) | (bytes[at + 2] << 24)) >> 8) / 8388608;
      }
      break;
    case 32:
    case 64:
      for (let i = 0, at = first; i < frames; i++, at += step) {
        out[i] = (bytes[at] | (bytes[at + 1] << 8) | (bytes[at + 2] << 16) | (bytes[at + 3] << 24)) / 2147483648;
      }
  }
  return 0;
}

function decodeFloat(
  bytes: Uint8Array,
  bits: number,
  first: number,
  step: number,
  out: Float64Array | Float32Array,
  frames: number,
): number {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let notFinite = 0;
  for (let i = 0, at = first; i < frames; i++, at += step) {
    const value = bits === 32 ? view.getFloat32(at, true) : view.getFloat64(at, true);
    if (Math.abs(value) < LARGEST_FLOAT) out[i] = value;
    else {
      out[i] = 0;
      notFinite++;
    }
  }
  return notFinite;
}
