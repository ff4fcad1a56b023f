import { lstat } from 'node:fs/promises';
import type { Transaction } from 'sequelize';
import { sayBytes } from '@pocket-twin/core/pcm/sayBytes.ts';
import { roomIn, scratchBytes } from './forecastHandoff.ts';
import type { HandoffRow } from './handoff.ts';
import { HandoffFileRow } from './handoffFile.ts';

/** Why a handoff can't go on by itself just now, in a sentence: its folder is gone, or there is no room for what is left. null where it can. */
export async function whyHeld({ id, folder }: HandoffRow, transaction?: Transaction): Promise<string | null> {
  if (!(await isThere(folder!)))
    return `The folder ${folder} is not there any more: is the disk connected? It goes on by itself when it is.`;
  const open = await HandoffFileRow.findAll({
    where: { handoffId: id, state: ['waiting', 'writing'] },
    attributes: ['bytes'],
    transaction,
  });
  const bytes = open.map((file) => file.bytes);
  const needed = bytes.reduce((sum, one) => sum + one, 0) + scratchBytes(bytes);
  const room = await roomIn(folder!);
  if (room === null || room >= needed) return null;
  return `There is no room in ${folder}: ${sayBytes(needed - room)} are missing. It goes on by itself when there is room.`;
}

/** The folder was made when the handoff began: a disk that is gone leaves an empty place, not the folder in it. */
export function isThere(folder: string): Promise<boolean> {
  return lstat(folder).then(
    (found) => found.isDirectory(),
    () => false,
  );
}
