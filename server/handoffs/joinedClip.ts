import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { NO_KINSHIP, planJoin } from '@pocket-twin/core/join/plan.ts';
import { ensureJoinable } from '@pocket-twin/media/join/writeJoin.ts';
import { readSketch } from '@pocket-twin/media/read/sketch.ts';
import { inThread } from '@pocket-twin/media/threads/inThread.ts';
import type { HandoffClip } from '@pocket-twin/media/handoff/handoffOrder.ts';
import type { ClipRow } from '../clips/clip.ts';
import { joinSourceOf } from '../joins/writeJoined.ts';

/**
 * The left and the right of one recording as one clip, lined up by their sound, every sample as it was read; made for a handoff and gone with it.
 * @param fileName what it is called @param scratch a folder for it. @throws Refusal where they can't become one
 */
export async function joinedClip(
  left: ClipRow,
  right: ClipRow,
  fileName: string,
  scratch: string,
): Promise<HandoffClip> {
  const sources = [left, right].map((row) => joinSourceOf(row, row.pcm!));
  ensureJoinable(sources);
  const kinship = await inThread('kinship', { first: sources[0].pcm, other: sources[1].pcm });
  const joining = planJoin(
    sources.map(({ pcm }) => pcm.frames),
    [NO_KINSHIP, kinship],
    'measured',
    sources[0].pcm.sampleRate,
    sources.map(({ name }) => name),
  );
  const folder = join(scratch, 'joined');
  await mkdir(folder);
  const path = join(folder, fileName);
  await inThread('join', { sources, joining, target: path });
  const outlineFolder = join(scratch, 'joined.outline');
  const { inspection, facts, pcm, sums } = await inThread('look', { path, outlineFolder });
  const sketch = await readSketch(outlineFolder, inspection.format.frames, inspection.format.channels);
  return { path, inspection, facts, pcm: pcm!, sketch, sums, stamp: null };
}
