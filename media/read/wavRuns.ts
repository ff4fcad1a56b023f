import { readSync } from 'node:fs';
import { setImmediate as nextTurn } from 'node:timers/promises';
import { bytesPerSample } from '@pocket-twin/core/pcm/sampleFormat.ts';
import type { ClipPart } from '@pocket-twin/core/measure/stream/clipParts.ts';
import type { WavLayout } from '@pocket-twin/core/riff/readWav.ts';

/** Where the words of a WAV lie, and what they are. */
export type WavWords = Pick<WavLayout, 'format' | 'channels' | 'sampleRate' | 'dataOffset' | 'frames'>;

// What is read while everything else waits: a tenth of a second of work.
const BYTES_BETWEEN_TURNS = 16 << 20;

/**
 * Reads as it goes: sound that comes through another thread is out of this core's cache when it is measured, and costs a fifth more. The system reads
 * ahead by itself. Whatever else waits has its turn now and then. See `Source.runs`.
 */
export async function* wavRuns(
  descriptor: number,
  wav: WavWords,
  part: Pick<ClipPart, 'readFrame' | 'endFrame'>,
  buffers: Uint8Array[],
): AsyncGenerator<Uint8Array> {
  const frameBytes = wav.channels * bytesPerSample(wav.format);
  const end = (): number => wav.dataOffset + Math.min(part.endFrame, wav.frames) * frameBytes;
  let offset = wav.dataOffset + part.readFrame * frameBytes;
  let sinceTurn = 0;
  const [buffer] = buffers;
  while (offset < end()) {
    const bytesRead = readSync(descriptor, buffer, 0, Math.min(buffer.length, end() - offset), offset);
    const whole = bytesRead - (bytesRead % frameBytes);
    if (whole === 0) return;
    offset += whole;
    sinceTurn += whole;
    if (sinceTurn >= BYTES_BETWEEN_TURNS) {
      sinceTurn = 0;
      await nextTurn();
    }
    yield buffer.subarray(0, whole);
  }
}
