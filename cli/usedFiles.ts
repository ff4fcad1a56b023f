import { readFile } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { basename, dirname, resolve } from 'node:path';
import pMap from 'p-map';
import type { EditClip } from '@pocket-twin/core/edit/match.ts';
import { usedStretches } from '@pocket-twin/core/edit/usedStretches.ts';
import type { GivenEdit } from '@pocket-twin/core/schema/handoffRecord.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import type { FrameRate } from '@pocket-twin/core/time/frameRates.ts';
import type { SecondsSpan } from '@pocket-twin/core/time/spans.ts';
import { editFrom } from '@pocket-twin/media/handoff/editFile.ts';
import { openSource } from '@pocket-twin/media/read/openSource.ts';
import type { HandoffRequest } from './handoffRequest.ts';
import type { ShootFile } from './shootFiles.ts';

/** A recording and what the edit makes of it. */
export interface UsedFile extends ShootFile {
  /** The stretches that are wanted; null is all of it. */
  stretches: SecondsSpan[] | null;
  /** Whether the edit could point to several files of it. */
  mayBeSeveral: boolean;
}

/** The edit, and of the recordings all, or those that it uses with what it uses of them. */
export async function whatIsUsed(
  { edit: path, handlesSeconds, markers }: HandoffRequest,
  found: ShootFile[],
): Promise<{ edit: GivenEdit | null; sources: UsedFile[] }> {
  if (path === null)
    return { edit: null, sources: found.map((file) => ({ ...file, stretches: null, mayBeSeveral: true })) };
  const text = await readFile(path, 'utf8').catch(() => {
    throw new Refusal('not-found', `The edit ${path} can’t be read. Check the name and the folder.`);
  });
  // What is no edit is told before every recording is opened.
  editFrom(text, basename(path), null);
  const heads = await pMap(found, ({ path: file }) => headOf(file), { concurrency: 2 * availableParallelism() });
  const rate = heads.find(({ frameRate }) => frameRate !== null)?.frameRate ?? null;
  const home = dirname(resolve(path));
  const edit = editFrom(text, basename(path), home, rate ?? undefined);
  const clips = found.map(({ path: file }, i): EditClip => ({ path: resolve(file), ...heads[i] }));
  const used = edit.used(clips);
  const several = edit.takesSeveral(
    clips,
    heads.map(({ channels }) => channels),
  );
  const sources = found.map((file, i) => ({ ...file, stretches: null, mayBeSeveral: several[i] }));
  return {
    edit: { version: 1, name: basename(path), text, home, rate, markers },
    sources:
      handlesSeconds === null
        ? sources
        : sources.flatMap((file, i) =>
            used[i].length > 0 ? [{ ...file, stretches: usedStretches(used[i], heads[i], handlesSeconds) }] : [],
          ),
  };
}

/** What a recording's head says of it; a file that cannot be read is used by nothing, and says so when it is handed off. */
async function headOf(
  path: string,
): Promise<Omit<EditClip, 'path'> & { frameRate: FrameRate | null; channels: number }> {
  const source = await openSource(path).catch((error: unknown) => {
    if (error instanceof Refusal) return null;
    throw error;
  });
  if (!source) return { reel: null, startSeconds: null, durationSeconds: 0, frameRate: null, channels: 1 };
  const { facts, format } = source;
  await source.close();
  return {
    reel: facts.tape,
    startSeconds: facts.startSamples === null ? null : facts.startSamples / format.sampleRate,
    // Where a head does not say how long it is, what is wanted is there.
    durationSeconds: format.durationSeconds || Infinity,
    frameRate: facts.frameRate,
    channels: format.channels,
  };
}
