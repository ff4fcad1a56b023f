import { sharedTransform } from '../kernels/fourier.ts';
import type { Mono } from './mono.ts';

/** Convolution by overlap-add, two blocks at a time. @returns as many frames as `sound` */
export function convolve(sound: Mono, response: Mono): Mono {
  const size = 2 ** Math.max(2, Math.ceil(Math.log2(response.length * 2)));
  const step = size - response.length + 1;
  const transform = sharedTransform(size);
  const filter = transform.spectrum(response);
  const out = new Float64Array(sound.length);
  const addAt = (start: number, block: Float64Array): void => {
    const end = Math.min(size, out.length - start);
    for (let i = 0; i < end; i++) out[start + i] += block[i];
  };
  for (let start = 0; start < sound.length; start += 2 * step) {
    const { one, other } = transform.filtered(
      sound.subarray(start, start + step),
      sound.subarray(start + step, start + 2 * step),
      filter,
    );
    addAt(start, one);
    addAt(start + step, other);
  }
  return out;
}
