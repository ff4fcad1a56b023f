import type { Progress } from '@pocket-twin/core/contract/events.ts';
import type { ClipSums } from '@pocket-twin/core/measure/stream/clipSums.ts';
import type { ClipFormat, Inspection } from '@pocket-twin/core/schema/inspection.ts';
import { inspectMoved } from '../read/inspectFile.ts';
import { readSums } from '../read/keptSums.ts';
import { replaceSound, type ReplacedSound, type ReplaceOrder } from './replaceSound.ts';

export interface MoveOrder extends Omit<ReplaceOrder, 'words'> {
  /** For each sound stream the channels, from 0, that are to be in it. */
  inputs: number[][];
  /** What measuring the film has added up, or the file where that is kept. */
  sums: ClipSums | string;
  format: ClipFormat;
}

/**
 * A film whose sound only changes places: its words are moved within a copy, with nothing made in between, and what is measured of them follows.
 * @returns null where it can't be done like that: nothing is written then
 */
export async function moveInFilm(
  { inputs, sums, format, ...order }: MoveOrder,
  onProgress?: (progress: Progress) => void,
): Promise<{ replaced: ReplacedSound; after: Inspection[] } | null> {
  const known = typeof sums === 'string' ? await readSums(sums, order.pcm) : sums;
  if (known === null) return null;
  const after: Inspection[] = [];
  for (const stream of inputs) {
    const inspection = await inspectMoved(order.pcm, known, stream, { ...format, channels: stream.length });
    if (inspection === null) return null;
    after.push(inspection);
  }
  const replaced = await replaceSound({ ...order, words: inputs }, onProgress);
  return replaced && { replaced, after };
}
