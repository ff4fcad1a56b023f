import FFT from 'fft.js';
import type { Mono } from './mono.ts';

/** Convolution by overlap-add. @returns as many frames as `sound` */
export function convolve(sound: Mono, response: Mono): Mono {
  const size = 2 ** Math.ceil(Math.log2(response.length * 2));
  const step = size - response.length + 1;
  const fft = new FFT(size);
  const transform = (values: Mono): number[] => {
    const padded = new Array<number>(size).fill(0);
    values.forEach((x, i) => {
      padded[i] = x;
    });
    const spectrum = fft.createComplexArray();
    fft.realTransform(spectrum, padded);
    fft.completeSpectrum(spectrum);
    return spectrum;
  };
  const filter = transform(response);
  const out = new Float64Array(sound.length + size);
  const product = fft.createComplexArray();
  const block = fft.createComplexArray();
  for (let start = 0; start < sound.length; start += step) {
    const spectrum = transform(sound.subarray(start, start + step));
    for (let k = 0; k < 2 * size; k += 2) {
      product[k] = spectrum[k] * filter[k] - spectrum[k + 1] * filter[k + 1];
      product[k + 1] = spectrum[k] * filter[k + 1] + spectrum[k + 1] * filter[k];
    }
    fft.inverseTransform(block, product);
    for (let i = 0; i < size; i++) out[start + i] += block[2 * i];
  }
  return out.slice(0, sound.length);
}
