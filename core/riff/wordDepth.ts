/** Three fields of a `fmt ` chunk that each say how wide a sample is. */
export interface DepthFields {
  channels: number;
  sampleRate: number;
  bitsPerSample: number;
  blockAlign: number;
  bytesPerSecond: number;
}

/**
 * The width of a sample in the file, in bits. The bytes of a frame and the bits of a sample must agree (RIFF: nBlockAlign is channels
 * times the bits rounded up to whole bytes); where they do not, the bytes a second say which of the two is wrong.
 * @returns null where no two agree; `doubtful` where one of them is wrong
 */
export function wordDepth({
  channels,
  sampleRate,
  bitsPerSample,
  blockAlign,
  bytesPerSecond,
}: DepthFields): { bits: number; doubtful: boolean } | null {
  const byBlock = (blockAlign / channels) * 8;
  const byBits = Math.ceil(bitsPerSample / 8) * 8;
  const byRate = (bytesPerSecond / sampleRate / channels) * 8;
  if (byBlock === byBits) return { bits: byBlock, doubtful: false };
  if (byBlock === byRate) return { bits: byBlock, doubtful: true };
  return byBits === byRate ? { bits: byBits, doubtful: true } : null;
}
