import { randomUUID } from 'node:crypto';
import { copyFile, mkdir, rename, stat } from 'node:fs/promises';
import { dirname } from 'node:path';
import type { Sequelize } from 'sequelize';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { announce } from './db/changes.ts';
import { ClipRow } from './db/clip.ts';
import type { JobQueue } from './jobs/queue.ts';
import { safeFileName, type Folders } from './storage/folders.ts';
import type { FoundFile, MediaFolders } from './storage/mediaFolders.ts';

export interface BringInContext {
  sequelize: Sequelize;
  folders: Folders;
  mediaFolders: MediaFolders;
  queue: JobQueue;
  largestBytes: number;
}

/** A file that becomes a clip of its own here. */
export interface Arrival {
  projectId: string;
  path: string;
  name: string;
  /** The folder it was in where it came from; empty where that is not known. */
  folder?: string;
  /** Now, where nobody knows better. */
  cameAt?: Date;
}

/**
 * Makes a file a clip of a project and queues it to be measured.
 * @param how move: the file was uploaded for this; copy: it stays where it is
 */
export async function bringIn({ sequelize, folders, queue }: BringInContext, { projectId, path, name, folder = '', cameAt = new Date() }: Arrival, how: 'move' | 'copy'): Promise<ClipRow> {
  const id = randomUUID();
  const target = folders.original(id, safeFileName(name));
  await mkdir(dirname(target), { recursive: true });
  await (how === 'move' ? rename(path, target) : copyFile(path, target));
  const { size } = await stat(target);
  const clip = await ClipRow.create({ id, projectId, name: safeFileName(name), folder, bytes: size, sourcePath: target, state: 'waiting', createdAt: cameAt });
  await queue.send('inspect', { clipId: id });
  await announce(sequelize, { kind: 'clip', id });
  return clip;
}

const ROWS_AT_ONCE = 500;

/** Makes files clips of a project where they lie. Those that are in the project already are passed over. @returns how many came */
export async function linkIn({ sequelize, queue, largestBytes }: BringInContext, projectId: string, files: FoundFile[]): Promise<number> {
  const known = new Set((await ClipRow.findAll({ where: { projectId, linked: true }, attributes: ['sourcePath'] })).map(({ sourcePath }) => sourcePath));
  const fresh = files.filter(({ path }) => !known.has(path));
  for (let at = 0; at < fresh.length; at += ROWS_AT_ONCE) {
    const rows = await Promise.all(fresh.slice(at, at + ROWS_AT_ONCE).map(async ({ path, name, folder }) => {
      const { size, mtimeMs } = await statOf(path, name);
      const tooLarge = size > largestBytes;
      return {
        id: randomUUID(), projectId, name, folder, bytes: size, sourcePath: path, linked: true, sourceModifiedMs: Math.round(mtimeMs),
        state: tooLarge ? 'failed' as const : 'waiting' as const, error: tooLarge ? `${name} is larger than this server takes. Bring in a shorter file.` : null,
      };
    }));
    await ClipRow.bulkCreate(rows);
    await queue.sendMany('inspect', rows.filter(({ state }) => state === 'waiting').map(({ id }) => ({ clipId: id })));
  }
  await announce(sequelize, { kind: 'lineup', projectId });
  return fresh.length;
}

/** Points a linked clip to where its file lies now. The same content keeps its measurement; another is measured again. */
export async function linkAgain({ sequelize, queue }: BringInContext, clip: ClipRow, file: FoundFile): Promise<void> {
  const { size, mtimeMs } = await statOf(file.path, file.name);
  const place = { sourcePath: file.path, folder: file.folder, bytes: size, sourceModifiedMs: Math.round(mtimeMs), sourceState: 'here' as const };
  const unchanged = clip.state === 'ready' && clip.bytes === size && clip.sourceModifiedMs === place.sourceModifiedMs && clip.name === file.name;
  // A WAV is its own working copy: its words are read from the new place.
  if (unchanged) await clip.update({ ...place, pcm: clip.pcm && clip.pcm.path === clip.sourcePath ? { ...clip.pcm, path: file.path } : clip.pcm });
  else {
    await clip.update({ ...place, state: 'waiting', error: null });
    await queue.send('inspect', { clipId: clip.id });
  }
  await announce(sequelize, { kind: 'clip', id: clip.id });
}

async function statOf(path: string, name: string): Promise<{ size: number; mtimeMs: number }> {
  return stat(path).catch(() => {
    throw new Refusal('not-found', `${name} is no longer there.`);
  });
}
