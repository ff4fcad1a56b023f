import { rm } from 'node:fs/promises';
import type { Packing } from '@pocket-twin/core/pcm/packing.ts';
import type { SampleFormat } from '@pocket-twin/core/pcm/sampleFormat.ts';
import { fileWord, taggedAs } from '../ffmpeg/coded.ts';
import { runEncoder } from '../ffmpeg/encode.ts';
import { carryAiffChunks, carryFlacBlocks } from './carriedParts.ts';
import { adoptWhole } from '../disk/wholeFile.ts';

interface Packed {
  as: Packing;
  words: SampleFormat;
  overwrite: boolean;
  /** A text with tags that come along (`writeTags`); the WAV's own where it is left out. */
  tagsPath?: string | null;
  /** What is said besides, or otherwise. */
  tags?: Record<string, string>;
  /** Words of AIFC in the order that the original had. */
  isLittleEndian?: boolean;
  /** A file of the same kind whose chunks or blocks come along as they are. */
  partsFrom?: string | null;
}

/**
 * Puts the words of a WAV file of our own into another container, which loses none of them.
 * @returns the path the file got (see `WholeFile.finish`)
 */
export async function packWav(
  wavPath: string,
  target: string,
  { as, words, overwrite, tagsPath = null, tags = {}, isLittleEndian = false, partsFrom = null }: Packed,
): Promise<string> {
  const packed = `${wavPath}.${as}`;
  const { kind, bits } = words;
  const codec =
    as === 'flac'
      ? 'flac'
      : bits === 8
        ? 'pcm_s8'
        : `pcm_${kind === 'float' ? 'f' : 's'}${bits}${isLittleEndian && kind === 'integer' && bits === 16 ? 'le' : 'be'}`;
  const encoder = runEncoder([
    ...['-f', 'wav', '-i', fileWord(wavPath)],
    ...(tagsPath === null ? [] : ['-f', 'ffmetadata', '-i', fileWord(tagsPath)]),
    ...['-map', '0:a', '-map_metadata', tagsPath === null ? '0' : '1', ...taggedAs(tags)],
    // AIFF has few tags of its own.
    ...['-c:a', codec, ...(as === 'aiff' ? ['-write_id3v2', '1'] : []), '-f', as, '-y', fileWord(packed)],
  ]);
  encoder.input.end();
  try {
    await encoder.finished;
    if (partsFrom !== null) await (as === 'flac' ? carryFlacBlocks : carryAiffChunks)(partsFrom, packed);
    return await adoptWhole(packed, target, overwrite);
  } finally {
    await rm(packed, { force: true });
  }
}
