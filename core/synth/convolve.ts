import { PairTransform } from '../kernels/fourier.ts';
import type { Mono } from './mono.ts';

/** Convolution by overlap-add. @returns as many frames as `sound` */
export function convolve(sound: Mono, response: Mono): Mono {
  const size = 2 ** Math.max(2, Math.ceil(Math.log2(response.length * 2)));
  const step = size - response.length + 1;
  const transform = new PairTransform(size);
  const filter = transform.spectrum(response);
  const out = new Float64Array(sound.length + size);
  for (let start = 0; start < sound.length; start += step) {
    const { re, im } = transform.spectrum(sound.subarray(start, start + step));
    for (let k = 0; k < re.length; k++) {
      const x = re[k];
      const y = im[k];
      re[k] = x * filter.re[k] - y * filter.im[k];
      im[k] = x * filter.im[k] + y * filter.re[k];
    }
    const block = transform.inverse({ first: 0, re, im }).one;
    for (let i = 0; i < size; i++) out[start + i] += block[i];
  }
  return out.slice(0, sound.length);
}
