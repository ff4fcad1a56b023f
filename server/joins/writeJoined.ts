import { mkdir, stat } from 'node:fs/promises';
import { dirname } from 'node:path';
import type { Progress } from '@pocket-twin/core/contract/events.ts';
import { noFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import type { JoinSource } from '@pocket-twin/media/join/writeJoin.ts';
import { inThread } from '@pocket-twin/media/threads/inThread.ts';
import { ClipRow } from '../clips/clip.ts';
import { ensureSourceHere } from '../clips/linkedSources.ts';

export function joinSourceOf(row: ClipRow, pcm: PcmLocation): JoinSource {
  return { name: row.displayName ?? row.fileName, pcm, facts: row.facts ?? noFacts(pcm.channels) };
}

/**
 * Writes a joined clip's file from the clips that it is made of, where it is not there yet: whole under its name, or not at all.
 * @returns its size in bytes. @throws Refusal where one of them is gone
 */
export async function writeJoined(joined: ClipRow, onProgress: (progress: Progress) => void): Promise<number> {
  const size = (): Promise<number> => stat(joined.sourcePath).then((file) => file.size);
  const there = await size().catch(() => null);
  if (there !== null) return there;
  const parts = joined.joinedFrom!;
  // What was taken out of the project can come back, and is still read.
  const rows = await ClipRow.unscoped().findAll({ where: { id: parts.map(({ clipId }) => clipId) } });
  const sources: JoinSource[] = [];
  for (const { clipId, name } of parts) {
    const row = rows.find(({ id }) => id === clipId);
    if (!row?.pcm)
      throw new Refusal(
        'conflict',
        `${name} is gone, so nothing could be joined with it. Join again with what is there.`,
      );
    await ensureSourceHere(row);
    sources.push(joinSourceOf(row, row.pcm));
  }
  const padsFrames = parts.map(({ padFrames }) => padFrames);
  const frames = Math.max(...sources.map(({ pcm }, i) => padsFrames[i] + pcm.frames));
  await mkdir(dirname(joined.sourcePath), { recursive: true });
  await inThread('join', { sources, joining: { padsFrames, frames }, target: joined.sourcePath }, { onProgress });
  return size();
}
