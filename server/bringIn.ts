import { randomUUID } from 'node:crypto';
import { copyFile, mkdir, rename, stat } from 'node:fs/promises';
import { dirname } from 'node:path';
import type { Sequelize } from 'sequelize';
import { announce } from './db/changes.ts';
import { ClipRow } from './db/clip.ts';
import type { JobQueue } from './jobs/queue.ts';
import { safeFileName, type Folders } from './storage/folders.ts';

export interface BringInContext {
  sequelize: Sequelize;
  folders: Folders;
  queue: JobQueue;
}

/**
 * Makes a file a clip of a project and queues it to be measured.
 * @param how move: the file was uploaded for this; copy: it stays where it is
 */
export async function bringIn(
  { sequelize, folders, queue }: BringInContext, projectId: string, path: string, name: string, how: 'move' | 'copy',
): Promise<ClipRow> {
  const id = randomUUID();
  const target = folders.original(id, safeFileName(name));
  await mkdir(dirname(target), { recursive: true });
  await (how === 'move' ? rename(path, target) : copyFile(path, target));
  const { size } = await stat(target);
  const clip = await ClipRow.create({ id, projectId, name: safeFileName(name), bytes: size, sourcePath: target, state: 'waiting' });
  await queue.send('inspect', { clipId: id });
  await announce(sequelize, { kind: 'clip', id });
  return clip;
}
