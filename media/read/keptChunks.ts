import { basename } from 'node:path';
import { readWav } from '@pocket-twin/core/riff/readWav.ts';
import type { KeptChunk } from '@pocket-twin/core/riff/wavFrame.ts';
import { FileSource } from './fileSource.ts';

/**
 * The sound and its shape, what pads, and what is of that very sound: peaks of its waveform (EBU Tech 3285, supplement 3), peaks of float samples, hashes
 * of its words. Everything else is carried on, whether it is known here or not.
 */
const NOT_CARRIED = new Set(['fmt ', 'data', 'fact', 'ds64', 'JUNK', 'junk', 'PAD ', 'FLLR', 'levl', 'PEAK', 'MD5 ']);
const LARGEST_CHUNK_BYTES = 16 << 20;

/** The bodies of the chunks that a repaired file carries on, in their order. */
export async function readKeptChunks(path: string): Promise<KeptChunk[]> {
  const file = await FileSource.open(path);
  try {
    const { chunks } = await readWav(file, basename(path));
    const kept = chunks.filter((chunk) => !NOT_CARRIED.has(chunk.id) && chunk.bytes <= LARGEST_CHUNK_BYTES);
    return await Promise.all(kept.map(async ({ id, offset, bytes }) => ({ id, body: await file.read(offset, bytes) })));
  } finally {
    await file.close();
  }
}
