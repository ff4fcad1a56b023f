import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import { damagedFile } from '@pocket-twin/core/repair/plan/readBack.ts';
import { writtenNames } from '@pocket-twin/core/repair/plan/outputNames.ts';
import { noFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import type { FileStamp, WriteJob } from '@pocket-twin/core/contract/jobs.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { channelNamesOf } from '@pocket-twin/core/setups/channelNamesOf.ts';
import { inThread } from '@pocket-twin/media/threads/inThread.ts';
import { action, type ActionContext } from '../platform/action.ts';
import { announce } from '../platform/changes.ts';
import { ClipRow } from '../clips/clip.ts';
import { SetupRow } from '../setups/setup.ts';
import { WritingRow } from './writing.ts';
import { inBackground } from '../platform/inBackground.ts';
import type { Logger } from '../platform/log.ts';
import type { Folders } from '../platform/home/folders.ts';

interface WriteContext extends ActionContext {
  folders: Folders;
  log: Logger;
}

/** Writes a clip's repaired files, reads them back, and keeps the receipt. */
export async function writeRepair(context: WriteContext, { writingId, seen }: WriteJob): Promise<void> {
  const { sequelize, folders, log } = context;
  const writing = await WritingRow.findByPk(writingId);
  const clip = writing && (await ClipRow.findByPk(writing.clipId));
  if (!writing || (writing.state !== 'waiting' && writing.state !== 'writing')) return;
  if (!clip?.pcm || !clip.inspection)
    return keep(context, writing, {
      state: 'failed',
      error: 'The clip was taken out of the project or is being measured again. Put it back and write it again.',
    });
  await keep(context, writing, { state: 'writing' });
  const folder = folders.writing(writingId);
  await mkdir(folder, { recursive: true });
  const setup = clip.setupId === null ? null : await SetupRow.findByPk(clip.setupId);
  const facts = clip.facts ?? noFacts(clip.pcm.channels);
  const channelNames = channelNamesOf(setup, facts, clip.pcm.channels);
  try {
    const receipt = await inThread(
      'write',
      {
        clip: {
          path: clip.sourcePath,
          name: clip.fileName,
          inspection: clip.inspection,
          facts,
          pcm: clip.pcm,
          sums: folders.sums(clip.id),
          stamp: stampOf(clip, seen ?? null),
        },
        repair: writing.repair,
        channelNames,
        words: clip.pcm.words,
        targets: writtenNames(writing.repair, clip.fileName, channelNames).map((name) => join(folder, name)),
        packing: null,
        overwrite: true,
      },
      {
        onProgress: (progress) =>
          inBackground(
            log,
            'Telling how far a writing is',
            announce(sequelize, { kind: 'progress', id: writingId, ...progress }),
          ),
      },
    );
    const damaged = damagedFile(receipt);
    await keep(
      context,
      writing,
      damaged
        ? {
            state: 'failed',
            receipt,
            error: `${damaged.name} read back differently from what was written: the disk may be failing. Write it again elsewhere.`,
          }
        : { state: 'done', receipt },
    );
  } catch (error) {
    if (!(error instanceof Refusal) || error.code === 'interrupted') throw error;
    await keep(context, writing, { state: 'failed', error: error.message });
  }
}

/** What a linked file was when it was measured; a file of our own is nobody's to replace. */
function stampOf({ linked, bytes, sourceModifiedMs }: ClipRow, seen: FileStamp | null): FileStamp | null {
  return linked && sourceModifiedMs !== null
    ? { bytes, modifiedMs: sourceModifiedMs, identity: seen?.identity ?? null }
    : null;
}

/** The clip's row says that it is written. */
function keep(context: ActionContext, writing: WritingRow, change: Partial<WritingRow>): Promise<void> {
  return action(context, async ({ transaction, tell }) => {
    await writing.update(change, { transaction });
    await tell({ kind: 'writing', id: writing.id });
    if (change.state !== 'writing') await tell({ kind: 'clip', id: writing.clipId });
  });
}

export async function giveUpWriting(context: ActionContext, { writingId }: WriteJob, error: unknown): Promise<void> {
  const writing = await WritingRow.findByPk(writingId);
  if (!writing) return;
  await keep(context, writing, {
    state: 'failed',
    error: error instanceof Refusal ? error.message : 'The file could not be written; the log says why. Try again.',
  });
}
