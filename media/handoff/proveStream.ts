import { open } from 'node:fs/promises';
import { basename } from 'node:path';
import { readWav } from '@pocket-twin/core/riff/readWav.ts';
import { bytesPerSample } from '@pocket-twin/core/pcm/sampleFormat.ts';
import { FFMPEG, reading, type CodedInput } from '../ffmpeg/coded.ts';
import { Run } from '../ffmpeg/run.ts';
import { FileSource } from '../read/fileSource.ts';

/**
 * Reads back a sound stream of words as it lies in a container, and compares it with the WAV that it was made from.
 * @param stream from 0, among the sound streams. @returns the frames that are there, and how many of those that were wanted differ or are missing
 */
export async function proveStream(
  input: CodedInput,
  stream: number,
  wavPath: string,
): Promise<{ frames: number; differingFrames: number }> {
  const file = await FileSource.open(wavPath);
  const {
    dataOffset,
    channels,
    format,
    frames: wanted,
  } = await readWav(file, basename(wavPath)).finally(() => file.close());
  const frameBytes = channels * bytesPerSample(format);
  const handle = await open(wavPath, 'r');
  const run = new Run(
    FFMPEG,
    [...reading(input), ...['-map', `0:a:${stream}`, '-c', 'copy', '-f', 'data', 'pipe:1']],
    basename(input.path),
  );
  let position = 0;
  let differingFrames = 0;
  let lastDiffering = -1;
  let expected = Buffer.alloc(0);
  try {
    for await (const piece of run.pieces()) {
      if (expected.length < piece.length) expected = Buffer.alloc(piece.length);
      const left = wanted * frameBytes - position;
      const { bytesRead } = await handle.read(
        expected,
        0,
        Math.max(0, Math.min(piece.length, left)),
        dataOffset + position,
      );
      if (Buffer.compare(piece.subarray(0, bytesRead), expected.subarray(0, bytesRead)) !== 0)
        for (let i = 0; i < bytesRead; i++) {
          const frame = Math.floor((position + i) / frameBytes);
          if (piece[i] === expected[i] || frame === lastDiffering) continue;
          lastDiffering = frame;
          differingFrames++;
        }
      position += piece.length;
    }
    await run.complaint();
  } finally {
    await handle.close();
  }
  const frames = Math.floor(position / frameBytes);
  return { frames, differingFrames: differingFrames + Math.max(0, wanted - frames) };
}
