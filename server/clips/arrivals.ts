import { randomUUID } from 'node:crypto';
import { copyFile, mkdir, readdir, rename, rm, stat } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { FileStore } from '@tus/file-store';
import * as z from 'zod';
import type { JoinedFrom } from '@pocket-twin/core/schema/joining.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { flushFile, flushFolder } from '@pocket-twin/media/disk/wholeFile.ts';
import { action, type ActionContext } from '../platform/action.ts';
import { ClipRow } from './clip.ts';
import { ProjectRow } from '../projects/project.ts';
import type { Logger } from '../platform/log.ts';
import { safeFileName, type Folders } from '../platform/home/folders.ts';

/** What a page says of a file that it sends up. */
export const UploadMetadata = z.object({
  /** What the upload and its clip are called, made up by who sends: asked for once more after a lost answer it is the same upload. */
  id: z.uuid().optional(),
  filename: z.string().min(1),
  projectId: z.uuid(),
  folder: z
    .string()
    .max(1000)
    .nullish()
    .transform((folder) => folder ?? ''),
  /** When a person chose the file: those chosen together came together, in whatever order they arrive. */
  chosenAt: z.iso
    .datetime()
    .optional()
    .transform((time) => (time === undefined ? undefined : new Date(Math.min(Date.parse(time), Date.now())))),
});

// What the store's notes about uploads end in.
const NOTE = '.json';

/** Where an upload stands: how much of it is here, and whether it is a clip. */
export interface UploadStanding {
  bytes: number;
  arrivedBytes: number;
  isClip: boolean;
}

interface ArrivalContext extends ActionContext {
  folders: Folders;
  log: Logger;
}

/**
 * Makes clips of what has come up whole. An upload's id is its clip's, and the store's note about an upload is kept until there is a row: whoever
 * finishes it, however often, and whatever was stopped between, there is one clip in the end.
 */
export class Arrivals {
  readonly store: FileStore;
  private readonly finishing = new Map<string, Promise<ClipRow | null>>();

  constructor(private readonly context: ArrivalContext) {
    this.store = new FileStore({ directory: context.folders.uploads });
  }

  /** @returns null where nothing is known of such an upload */
  async standingOf(id: string): Promise<UploadStanding | null> {
    const clip = await this.finish(id);
    if (clip) return { bytes: clip.bytes, arrivedBytes: clip.bytes, isClip: true };
    const note = await this.noteOf(id);
    if (note?.size === undefined) return null;
    return {
      bytes: note.size,
      arrivedBytes: (await sizeOf(join(this.context.folders.uploads, id))) ?? 0,
      isClip: false,
    };
  }

  /**
   * Makes a clip of an upload of which every byte is here. @returns the clip, also where it was one already; null where bytes are missing or nothing is known
   * @throws Refusal where its project is gone for good
   */
  finish(id: string): Promise<ClipRow | null> {
    const running = this.finishing.get(id);
    if (running) return running;
    const finishing = this.bringIn(id).finally(() => this.finishing.delete(id));
    this.finishing.set(id, finishing);
    return finishing;
  }

  /** Finishes what a crash has left between the last byte and the row. */
  async finishAll(): Promise<void> {
    const notes = (await readdir(this.context.folders.uploads))
      .filter((name) => name.endsWith(NOTE))
      .map((name) => name.slice(0, -NOTE.length));
    for (const id of notes) {
      await this.finish(id).catch((error: unknown) =>
        this.context.log.warn({ error: (error as Error).message, id }, 'An upload could not be brought in'),
      );
    }
  }

  private async bringIn(id: string): Promise<ClipRow | null> {
    const { folders } = this.context;
    const [known, note] = [await ClipRow.unscoped().findByPk(id), await this.noteOf(id)];
    if (known && note) await this.forget(id);
    if (known) return known;
    if (note?.size === undefined) return null;
    const { filename, projectId, folder, chosenAt } = UploadMetadata.parse(note.metadata);
    const name = safeFileName(filename);
    const [uploaded, original] = [join(folders.uploads, id), folders.original(id, name)];
    if ((await sizeOf(uploaded)) === note.size) {
      // On the disk before anything says that it is there.
      await flushFile(uploaded);
      await moveIn(uploaded, original);
    } else if ((await sizeOf(original)) !== note.size) return null;
    if ((await ProjectRow.unscoped().count({ where: { id: projectId } })) === 0) {
      await rm(folders.clip(id), { recursive: true, force: true });
      await this.forget(id);
      throw new Refusal('not-found', `The project of ${filename} is gone. Choose another one and bring it in there.`);
    }
    const clip = await makeClip(this.context, {
      id,
      projectId,
      fileName: name,
      folder,
      bytes: note.size,
      sourcePath: original,
      cameAt: chosenAt,
    });
    await this.forget(id);
    return clip;
  }

  private async noteOf(id: string) {
    return (await this.store.configstore.get(id).catch(() => undefined)) ?? null;
  }

  private async forget(id: string): Promise<void> {
    await this.store.configstore
      .delete(id)
      .catch((error: unknown) =>
        this.context.log.warn({ error: (error as Error).message, id }, 'A note about an upload could not be removed'),
      );
  }
}

interface NewClip {
  id: string;
  projectId: string;
  fileName: string;
  folder: string;
  bytes: number;
  sourcePath: string;
  cameAt?: Date;
  joinedFrom?: JoinedFrom;
}

/** Row, job and news together, and one wait for the disk instead of three. */
export function makeClip(context: ActionContext, { cameAt = new Date(), ...clip }: NewClip): Promise<ClipRow> {
  return action(context, async ({ transaction, send, tell }) => {
    const row = await ClipRow.create({ ...clip, state: 'waiting', createdAt: cameAt }, { transaction });
    await send('inspect', { clipId: clip.id });
    await tell({ kind: 'clip', id: clip.id });
    return row;
  });
}

/** Makes a clip of a copy of a file on this machine. */
export async function copyIn(
  context: Pick<ArrivalContext, keyof ActionContext | 'folders'>,
  { projectId, path, name }: { projectId: string; path: string; name: string },
): Promise<ClipRow> {
  const id = randomUUID();
  const fileName = safeFileName(name);
  const sourcePath = context.folders.original(id, fileName);
  await mkdir(dirname(sourcePath), { recursive: true });
  await copyFile(path, sourcePath);
  await flushFile(sourcePath);
  await flushUpTo(sourcePath);
  const { size: bytes } = await stat(sourcePath);
  return makeClip(context, { id, projectId, fileName, folder: '', bytes, sourcePath });
}

async function moveIn(from: string, to: string): Promise<void> {
  await mkdir(dirname(to), { recursive: true });
  await rename(from, to);
  await flushUpTo(to);
  await flushFolder(dirname(from));
}

/** The names that lead to an original: its folder, its clip's, and that of all clips. */
async function flushUpTo(original: string): Promise<void> {
  for (let folder = dirname(original), up = 0; up < 3; folder = dirname(folder), up++) await flushFolder(folder);
}

async function sizeOf(path: string): Promise<number | null> {
  return stat(path).then(
    ({ size }) => size,
    () => null,
  );
}
