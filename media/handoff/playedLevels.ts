import { wholeClip } from '@pocket-twin/core/measure/stream/clipParts.ts';
import { decodeWords } from '@pocket-twin/core/pcm/decodeWords.ts';
import { bytesPerSample } from '@pocket-twin/core/pcm/sampleFormat.ts';
import { openSource } from '../read/openSource.ts';

/** How loud a file is from moment to moment. */
export interface PlayedLevels {
  blockSeconds: number;
  /** Its start in its own timecode; null where it has none. */
  startSeconds: number | null;
  durationSeconds: number;
  /** The mean square of each block, a list a channel. */
  channels: Float64Array[];
}

const BLOCK_SECONDS = 0.1;
const RUN_FRAMES = 65_536;

/** Reads a whole file as whoever plays it would. @throws Refusal where it cannot be read */
export async function playedLevels(path: string): Promise<PlayedLevels> {
  const source = await openSource(path);
  try {
    const { channels: count, sampleRate } = source.format;
    const frameBytes = count * bytesPerSample(source.words);
    const blockFrames = Math.round(sampleRate * BLOCK_SECONDS);
    const sums: number[][] = Array.from({ length: count }, () => []);
    const planar = Array.from({ length: count }, () => new Float64Array(RUN_FRAMES));
    const buffers = [new Uint8Array(RUN_FRAMES * frameBytes), new Uint8Array(RUN_FRAMES * frameBytes)];
    let at = 0;
    for await (const run of source.runs(wholeClip(), buffers)) {
      for (let done = 0; done < run.length; done += RUN_FRAMES * frameBytes) {
        const bytes = run.subarray(done, Math.min(run.length, done + RUN_FRAMES * frameBytes));
        const frames = Math.floor(bytes.length / frameBytes);
        decodeWords(bytes, source.words, planar, frames);
        for (let c = 0; c < count; c++) addSquares(planar[c], frames, at, blockFrames, sums[c]);
        at += frames;
      }
    }
    const { startSamples } = source.facts;
    return {
      blockSeconds: blockFrames / sampleRate,
      startSeconds: startSamples === null ? null : startSamples / sampleRate,
      durationSeconds: at / sampleRate,
      channels: sums.map((blocks) => Float64Array.from(blocks, (sum) => sum / blockFrames)),
    };
  } finally {
    await source.close();
  }
}

function addSquares(samples: Float64Array, frames: number, first: number, blockFrames: number, sums: number[]): void {
  for (let i = 0; i < frames;) {
    const block = Math.floor((first + i) / blockFrames);
    const end = Math.min(frames, (block + 1) * blockFrames - first);
    let sum = 0;
    for (; i < end; i++) sum += samples[i] * samples[i];
    sums[block] = (sums[block] ?? 0) + sum;
  }
}
