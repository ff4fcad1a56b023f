import { chown } from 'node:fs/promises';
import { basename } from 'node:path';
import { FFMPEG, fileWord, reading, type CodedInput } from './coded.ts';
import { confinedOwner } from './confine.ts';
import { Run } from './run.ts';

/** Raw interleaved words of one audio stream: its number among them, the codec (pcm_s24le, ...), the rate to bring it to, and the most of it. */
export interface WantedWords {
  stream: number;
  codec: string;
  sampleRate: number;
  mostSeconds: number;
}

function wordsFrom({ stream, codec, sampleRate, mostSeconds }: WantedWords): string[] {
  return [
    '-map',
    `0:a:${stream}`,
    '-vn',
    '-sn',
    '-dn',
    '-t',
    String(mostSeconds),
    '-ar',
    String(sampleRate),
    '-c:a',
    codec,
    '-f',
    codec.replace('pcm_', ''),
  ];
}

/** Decodes one audio stream to a pipe. */
export function decodeToPipe(input: CodedInput, wanted: WantedWords): Run {
  return new Run(FFMPEG, [...reading(input), ...wordsFrom(wanted), 'pipe:1'], basename(input.path));
}

/**
 * Decodes several audio streams in one go, each to a file of its own in a folder that is given to FFmpeg: through pipes, one that lags far behind the
 * others would stop them all. What has been done goes to the pipe, so that a run that no longer moves is noticed: read it to its end.
 */
export async function decodeToFiles(
  input: CodedInput,
  folder: string,
  wanted: (WantedWords & { path: string })[],
): Promise<Run> {
  const owner = confinedOwner();
  if (owner !== null) await chown(folder, owner, owner);
  return new Run(
    FFMPEG,
    [
      ...reading(input),
      '-progress',
      'pipe:1',
      '-y',
      ...wanted.flatMap((one) => [...wordsFrom(one), fileWord(one.path)]),
    ],
    basename(input.path),
  );
}
