import { mkdir } from 'node:fs/promises';
import { extname, join } from 'node:path';
import type { Sequelize } from 'sequelize';
import type { WriteJob } from '@pocket-twin/core/schema/jobs.ts';
import type { Receipt } from '@pocket-twin/core/schema/receipt.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { inThread } from '@pocket-twin/media/threads/inThread.ts';
import { announce } from '../db/changes.ts';
import { ClipRow } from '../db/clip.ts';
import { WritingRow } from '../db/writing.ts';
import type { Folders } from '../storage/folders.ts';

/** Writes a clip's repaired files, reads them back, and keeps the receipt. */
export async function writeRepair(sequelize: Sequelize, folders: Folders, { writingId }: WriteJob): Promise<void> {
  const writing = await WritingRow.findByPk(writingId);
  const clip = writing && await ClipRow.findByPk(writing.clipId);
  if (!writing || !clip?.pcm || !clip.inspection || writing.state === 'cancelled') return;
  const tell = (): Promise<void> => announce(sequelize, { kind: 'writing', id: writingId });
  await writing.update({ state: 'writing' });
  await tell();
  const folder = folders.writing(writingId);
  await mkdir(folder, { recursive: true });
  const stem = clip.name.slice(0, clip.name.length - extname(clip.name).length);
  try {
    const written = await inThread('write', {
      source: clip.pcm,
      chunksFrom: clip.inspection.format.container === 'wav' ? clip.sourcePath : null,
      repair: writing.repair,
      words: clip.pcm.words,
      targets: writing.repair.outputs.map(({ suffix }) => join(folder, `${stem}${suffix}.wav`)),
      overwrite: true,
    }, { onProgress: (progress) => void announce(sequelize, { kind: 'progress', id: writingId, ...progress }) });
    const receipt: Receipt = {
      version: 1, source: clip.name, repair: writing.repair, levelGainDb: written.levelGainDb,
      before: clip.inspection, files: written.files, writtenAt: new Date().toISOString(),
    };
    const damaged = written.files.find(({ proof }) => proof.differingFrames > 0);
    await writing.update(damaged
      ? { state: 'failed', receipt, error: `${damaged.name} read back differently from what was written: the disk may be failing. Write it again elsewhere.` }
      : { state: 'done', receipt });
  } catch (error) {
    if (!(error instanceof Refusal)) throw error;
    await writing.update({ state: 'failed', error: error.message });
  }
  await tell();
  // Its row says that it is written.
  await announce(sequelize, { kind: 'clip', id: clip.id });
}

export async function giveUpWriting(sequelize: Sequelize, { writingId }: WriteJob): Promise<void> {
  const writing = await WritingRow.findByPk(writingId);
  await writing?.update({ state: 'failed', error: 'The file could not be written; the log says why. Try again.' });
  await announce(sequelize, { kind: 'writing', id: writingId });
}
