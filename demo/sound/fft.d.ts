declare module 'fft.js' {
  export default class FFT {
    constructor(size: number);
    createComplexArray(): number[];
    transform(out: Float64Array | number[], input: Float64Array | number[]): void;
    realTransform(out: Float64Array | number[], input: Float64Array | number[]): void;
    completeSpectrum(spectrum: Float64Array | number[]): void;
    inverseTransform(out: Float64Array | number[], input: Float64Array | number[]): void;
  }
}
