import { lstat, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { SCRATCH_PREFIX } from '@pocket-twin/media/disk/scratch.ts';
import { ClipRow } from '../../clips/clip.ts';
import { forgetRemoved } from '../../projects/forgetRemoved.ts';
import { HandoffRow } from '../../handoffs/handoff.ts';
import { WritingRow } from '../../writings/writing.ts';
import type { Logger } from '../log.ts';
import type { Folders } from './folders.ts';

const HOUR_MS = 3_600_000;
/** What was touched within this may belong to somebody who is at it, on this machine or another. */
const LEFT_ALONE_MS = 24 * HOUR_MS;
/** An upload that nobody went on with for this long is abandoned. */
const ABANDONED_MS = 7 * 24 * HOUR_MS;

export interface Swept {
  things: number;
  bytes: number;
}

/**
 * Frees what nobody needs any more: clips and projects removed for good, written files of clips that are gone, folders without a row, parts of files and
 * temporary folders that whoever made them left behind, abandoned uploads. Originals of clips that can still be put back are never touched.
 */
export async function sweepHome(folders: Folders, log: Logger, now = Date.now()): Promise<Swept> {
  await forgetRemoved(folders);
  const swept: Swept = { things: 0, bytes: 0 };
  const free = async (path: string): Promise<void> => {
    const bytes = await bytesUnder(path);
    await rm(path, { recursive: true, force: true });
    swept.things++;
    swept.bytes += bytes;
  };
  const isOld = async (path: string, ageMs: number): Promise<boolean> => {
    const found = await lstat(path).catch(() => null);
    return found !== null && now - Math.max(found.mtimeMs, found.ctimeMs) > ageMs;
  };
  const stray = async (folder: string, isKnown: (ids: string[]) => Promise<Set<string>>): Promise<void> => {
    const ids = (await namesIn(folder)).filter((name) => UUID.test(name));
    const known = ids.length > 0 ? await isKnown(ids) : new Set();
    for (const id of ids)
      if (!known.has(id) && (await isOld(join(folder, id), LEFT_ALONE_MS))) await free(join(folder, id));
  };
  const uploads = new Set(await namesIn(folders.uploads));
  await stray(folders.clips, async (ids) => {
    const rows = await ClipRow.unscoped().findAll({ where: { id: ids }, attributes: ['id'] });
    // An upload that has a note left is a clip that will be.
    return new Set([...rows.map(({ id }) => id), ...ids.filter((id) => uploads.has(`${id}.json`))]);
  });
  await stray(folders.written, async (ids) => {
    const writings = await WritingRow.findAll({ where: { id: ids }, attributes: ['id', 'clipId'] });
    const clips = new Set(
      (
        await ClipRow.unscoped().findAll({ where: { id: writings.map(({ clipId }) => clipId) }, attributes: ['id'] })
      ).map(({ id }) => id),
    );
    return new Set(writings.filter(({ clipId }) => clips.has(clipId)).map(({ id }) => id));
  });
  await stray(folders.packed, async (ids) => {
    const handoffs = await HandoffRow.findAll({ where: { id: ids }, attributes: ['id'] });
    return new Set(handoffs.map(({ id }) => id));
  });
  for (const name of uploads)
    if (await isOld(join(folders.uploads, name), ABANDONED_MS)) await free(join(folders.uploads, name));
  for (const path of await leftBehind(folders)) if (await isOld(path, LEFT_ALONE_MS)) await free(path);
  if (swept.things > 0) log.info(swept, 'The home was swept');
  return swept;
}

const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/;

/** Parts of files that were never finished, and temporary folders. */
async function leftBehind(folders: Folders): Promise<string[]> {
  const inside = async (parent: string): Promise<string[]> => {
    const names = await namesIn(parent);
    const children = await Promise.all(
      names
        .filter((name) => UUID.test(name))
        .map((name) => namesIn(join(parent, name)).then((found) => found.map((child) => join(parent, name, child)))),
    );
    return children.flat();
  };
  const ours = [...(await inside(folders.clips)), ...(await inside(folders.written))].filter((path) =>
    /(\/\.[^/]*\.part|\/outline\.part[^/]*|\/\.pocket-twin-scratch-[^/]*)$/.test(path),
  );
  const temporary = (await namesIn(tmpdir()))
    .filter((name) => name.startsWith(SCRATCH_PREFIX))
    .map((name) => join(tmpdir(), name));
  return [...ours, ...temporary];
}

function namesIn(folder: string): Promise<string[]> {
  return readdir(folder).catch(() => []);
}

async function bytesUnder(path: string): Promise<number> {
  const found = await lstat(path).catch(() => null);
  if (!found) return 0;
  if (!found.isDirectory()) return found.size;
  const sizes = await Promise.all((await namesIn(path)).map((name) => bytesUnder(join(path, name))));
  return sizes.reduce((sum, size) => sum + size, 0);
}
