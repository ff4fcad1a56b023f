/** How one sample is stored. Words are little-endian; 8-bit integers are unsigned, as in WAV. */
export interface SampleFormat {
  kind: 'integer' | 'float';
  bits: 8 | 16 | 24 | 32 | 64;
}

export function bytesPerSample(format: SampleFormat): number {
  return format.bits / 8;
}

/** The largest positive value the format holds, where a full-scale sine's peak is 1. */
export function largestValue(format: SampleFormat): number {
  return format.kind === 'float' ? 1 : 1 - 2 ** (1 - format.bits);
}

/** The name FFmpeg and the terminal use for the word format. */
export function codecName(format: SampleFormat): string {
  if (format.kind === 'float') return `pcm_f${format.bits}le`;
  return format.bits === 8 ? 'pcm_u8' : `pcm_s${format.bits}le`;
}
