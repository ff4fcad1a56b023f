import { readFile } from 'node:fs/promises';
import { basename, dirname, resolve } from 'node:path';
import type { EditClip } from '@pocket-twin/core/edit/match.ts';
import { usedStretches } from '@pocket-twin/core/edit/usedStretches.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import type { FrameRate } from '@pocket-twin/core/time/frameRates.ts';
import type { SecondsSpan } from '@pocket-twin/core/time/spans.ts';
import { editFrom, type EditFile } from '@pocket-twin/media/handoff/editFile.ts';
import { openSource } from '@pocket-twin/media/read/openSource.ts';
import type { HandoffRequest } from './handoffRequest.ts';
import type { ShootFile } from './shootFiles.ts';

/** The edit, and of the recordings all, or those that it uses with what it uses of them. */
export async function whatIsUsed(
  { edit: path, handlesSeconds }: HandoffRequest,
  found: ShootFile[],
): Promise<{ edit: EditFile | null; sources: UsedFile[] }> {
  const all = found.map((file): UsedFile => ({ ...file, stretches: null }));
  if (path === null || handlesSeconds === null)
    return { edit: path === null ? null : await editOf(path), sources: all };
  const clocks = await Promise.all(found.map(({ path: file }) => clockOf(file)));
  const edit = await editOf(path, clocks.find(({ frameRate }) => frameRate !== null)?.frameRate ?? undefined);
  const used = edit.used(found.map(({ path: file }, i) => ({ path: resolve(file), ...clocks[i] })));
  return {
    edit,
    sources: all.flatMap((file, i) =>
      used[i].length > 0 ? [{ ...file, stretches: usedStretches(used[i], clocks[i], handlesSeconds) }] : [],
    ),
  };
}

/** @throws Refusal where it can't be read or is no edit */
async function editOf(path: string, rate?: FrameRate): Promise<EditFile> {
  const text = await readFile(path, 'utf8').catch(() => {
    throw new Refusal('not-found', `The edit ${path} can’t be read. Check the name and the folder.`);
  });
  return editFrom(text, basename(path), dirname(resolve(path)), rate);
}

/** What a recording's head says of its time; a file that cannot be read is used by nothing, and says so when it is handed off. */
async function clockOf(path: string): Promise<Omit<EditClip, 'path'> & { frameRate: FrameRate | null }> {
  const source = await openSource(path).catch((error: unknown) => {
    if (error instanceof Refusal) return null;
    throw error;
  });
  if (!source) return { reel: null, startSeconds: null, durationSeconds: 0, frameRate: null };
  const { facts, format } = source;
  await source.close();
  return {
    reel: facts.tape,
    startSeconds: facts.startSamples === null ? null : facts.startSamples / format.sampleRate,
    // Where a head does not say how long it is, what is wanted is there.
    durationSeconds: format.durationSeconds || Infinity,
    frameRate: facts.frameRate,
  };
}

/** A recording and the stretches of it that are wanted; null is all of it. */
export interface UsedFile extends ShootFile {
  stretches: SecondsSpan[] | null;
}
