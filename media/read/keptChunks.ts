import { basename } from 'node:path';
import { readWav } from '@pocket-twin/core/riff/readWav.ts';
import type { KeptChunk } from '@pocket-twin/core/riff/wavFrame.ts';
import { FileSource } from './fileSource.ts';

/** What the edit and the archive read: Broadcast Wave's own (EBU Tech 3285), iXML, cue points, and LIST (names, the cues' labels). */
const KEPT = ['bext', 'iXML', 'cue ', 'LIST'];
const LARGEST_CHUNK_BYTES = 16 << 20;

/** The bodies of the chunks that a repaired file carries on, in their order. */
export async function readKeptChunks(path: string): Promise<KeptChunk[]> {
  const file = await FileSource.open(path);
  try {
    const { chunks } = await readWav(file, basename(path));
    const kept = chunks.filter((chunk) => KEPT.includes(chunk.id) && chunk.bytes <= LARGEST_CHUNK_BYTES);
    return await Promise.all(kept.map(async ({ id, offset, bytes }) => ({ id, body: await file.read(offset, bytes) })));
  } finally {
    await file.close();
  }
}
