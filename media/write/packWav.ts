import { rm } from 'node:fs/promises';
import type { Packing } from '@pocket-twin/core/pcm/packing.ts';
import type { SampleFormat } from '@pocket-twin/core/pcm/sampleFormat.ts';
import { fileWord } from '../ffmpeg/coded.ts';
import { runEncoder } from '../ffmpeg/encode.ts';
import { adoptWhole } from '../disk/wholeFile.ts';

/**
 * Puts the words of a WAV file of our own into another container, which loses none of them.
 * @returns the path the file got (see `WholeFile.finish`)
 */
export async function packWav(
  wavPath: string,
  target: string,
  { as, words, overwrite }: { as: Packing; words: SampleFormat; overwrite: boolean },
): Promise<string> {
  const packed = `${wavPath}.${as}`;
  const { kind, bits } = words;
  const codec = as === 'flac' ? 'flac' : bits === 8 ? 'pcm_s8' : `pcm_${kind === 'float' ? 'f' : 's'}${bits}be`;
  const encoder = runEncoder([
    ...['-f', 'wav', '-i', fileWord(wavPath)],
    ...['-c:a', codec, '-f', as, '-y', fileWord(packed)],
  ]);
  encoder.input.end();
  try {
    await encoder.finished;
    return await adoptWhole(packed, target, overwrite);
  } finally {
    await rm(packed, { force: true });
  }
}
