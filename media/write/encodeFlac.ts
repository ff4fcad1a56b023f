import { rm } from 'node:fs/promises';
import { fileWord } from '../ffmpeg/coded.ts';
import { runEncoder } from '../ffmpeg/encode.ts';
import { adoptWhole } from '../disk/wholeFile.ts';

/**
 * Packs a 16- or 24-bit WAV file into FLAC, which loses nothing.
 * @returns the path the file got (see `WholeFile.finish`)
 */
export async function encodeFlac(wavPath: string, target: string, overwrite: boolean): Promise<string> {
  const packed = `${wavPath}.flac`;
  const encoder = runEncoder([
    '-f',
    'wav',
    '-i',
    fileWord(wavPath),
    '-c:a',
    'flac',
    '-f',
    'flac',
    '-y',
    fileWord(packed),
  ]);
  encoder.input.end();
  try {
    await encoder.finished;
    return await adoptWhole(packed, target, overwrite);
  } finally {
    await rm(packed, { force: true });
  }
}
