import { stat } from 'node:fs/promises';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import type { Response } from 'express';
import { ZipFile } from 'yazl';
import { MHL_MANIFEST, SHA256_MANIFEST } from '@pocket-twin/core/handoff/manifest.ts';
import { safeName } from '@pocket-twin/core/handoff/names.ts';
import { RECEIPT_PAGE } from '@pocket-twin/media/handoff/completeFolder.ts';
import { RECEIPTS } from '@pocket-twin/media/handoff/folderRecords.ts';
import { HandoffRow } from './handoff.ts';
import { HandoffFileRow } from './handoffFile.ts';

const LOOK_EVERY_MS = 300;

/**
 * Streams a handoff as one archive, each file as soon as it is there: nothing is kept twice. Files are stored as they are: sound and pictures do not
 * pack, and whoever waits would only wait longer. Ends when the handoff does.
 */
export async function streamArchive(handoff: HandoffRow, response: Response): Promise<void> {
  const name = safeName(handoff.name);
  const archive = new ZipFile();
  response.attachment(`${name}.zip`).type('application/zip');
  archive.outputStream.pipe(response);
  let gone = false;
  response.on('close', () => {
    gone = true;
  });
  const add = async (path: string): Promise<void> => {
    const real = join(handoff.folder!, path);
    // Written once, and proven; it may have been taken away since.
    const found = await stat(real).catch(() => null);
    if (found?.isFile()) archive.addFile(real, `${name}/${path}`, { compress: false });
  };
  const added = new Set<string>();
  for (;;) {
    const state = (await HandoffRow.findByPk(handoff.id, { attributes: ['state'] }))?.state;
    const files = await HandoffFileRow.findAll({
      where: { handoffId: handoff.id, state: 'done' },
      attributes: ['id', 'paths'],
      order: [['position', 'ASC']],
    });
    for (const { id, paths } of files.filter((file) => !added.has(file.id))) {
      added.add(id);
      for (const path of paths) await add(path);
    }
    if (gone) return;
    if (state === undefined || state === 'done' || state === 'cancelled') {
      if (files.length > 0) {
        for (const { paths } of files) await add(`${RECEIPTS}/${paths[0]}.json`);
        for (const path of [RECEIPT_PAGE, MHL_MANIFEST, SHA256_MANIFEST]) await add(path);
        const edit = (await HandoffRow.findByPk(handoff.id))?.edit;
        if (edit) await add(edit.name);
      }
      archive.end();
      return;
    }
    await pause(LOOK_EVERY_MS);
  }
}
