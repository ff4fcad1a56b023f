import { mkdir, rm, stat, utimes } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import type { Progress } from '@pocket-twin/core/contract/events.ts';
import type { WhatWasAsked } from '@pocket-twin/core/handoff/conformReasons.ts';
import { conformLines } from '@pocket-twin/core/handoff/conform.ts';
import { isCopied } from '@pocket-twin/core/handoff/isCopied.ts';
import { outputWords, packingFor } from '@pocket-twin/core/pcm/packing.ts';
import { whatWasDone } from '@pocket-twin/core/repair/plan/planSentence.ts';
import { leaveAsItIs } from '@pocket-twin/core/repair/plan/plans.ts';
import { repairWithin } from '@pocket-twin/core/repair/plan/within.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { adoptWhole } from '../disk/wholeFile.ts';
import { inputOf } from '../read/inputOf.ts';
import { clipWithin } from './clipWithin.ts';
import { checksumsOf } from './checksums.ts';
import { pictureHash } from './pictureHash.ts';
import { type HandoffOrder, type HandedOff, type HandedOffFile, pathsOf, ownFolder, write } from './handoffOrder.ts';
import { receiptOf } from './receiptOf.ts';
import { soundFactsOf, soundFacts, headOf } from './fileFacts.ts';
import { travelling } from './travelling.ts';
import { handOffFilm } from './handOffFilm.ts';

/** Writes one clip's files for the edit: a copy where nothing is done, else repaired, with its picture where it has one; then holds old against new. */
export async function handOffClip(order: HandoffOrder, onProgress: (progress: Progress) => void): Promise<HandedOff> {
  const done = await written(order, onProgress);
  return order.keepsTimes ? asOld(done, order) : done;
}

function written(order: HandoffOrder, onProgress: (progress: Progress) => void): Promise<HandedOff> {
  const { clip, repair, format, bits } = order;
  const { hasVideo } = clip.inspection.format;
  if (isCopied({ repair, format, bits, hasVideo })) return copied(order);
  const plan = repair ?? leaveAsItIs(clip.pcm.channels);
  return hasVideo && format === 'same' ? handOffFilm(order, plan, onProgress) : soundOnly(order, plan, onProgress);
}

/** Gives new files the times of the recording's. */
async function asOld(done: HandedOff, { clip, folder }: HandoffOrder): Promise<HandedOff> {
  const { atime, mtime } = await stat(clip.path);
  const files: HandedOffFile[] = [];
  for (const file of done.files) {
    await utimes(join(folder, file.path), atime, mtime);
    // To what the disk keeps of it.
    const { mtime: kept } = await stat(join(folder, file.path));
    files.push({ ...file, checksums: { ...file.checksums, modifiedAt: kept.toISOString() } });
  }
  return { ...done, files };
}

async function copied(order: HandoffOrder): Promise<HandedOff> {
  const { clip, folder, claim } = order;
  const [path] = await claim(pathsOf(order));
  const target = join(folder, path);
  await mkdir(dirname(target), { recursive: true });
  await adoptWhole(clip.path, target, true);
  const checksums = await checksumsOf(target);
  const travels = await travelling(target, clip.inspection.format.container);
  const isSame = (await checksumsOf(clip.path)).sha256 === checksums.sha256;
  const { frames, hasVideo } = clip.inspection.format;
  // Of bytes that are equal everything is.
  const facts = {
    ...soundFactsOf(clip),
    ...(hasVideo && {
      pictureHash: await pictureHash(await inputOf(clip.path)),
      pictureFrames: clip.facts.picture?.frames ?? null,
    }),
  };
  return {
    receipt: receiptOf(clip, leaveAsItIs(clip.pcm.channels), [
      {
        ...{ name: basename(path), bytes: checksums.bytes, frames, exact: true, exactOutside: [], heldSamples: 0 },
        proof: { comparedFrames: frames, differingFrames: isSame ? 0 : frames },
        after: clip.inspection,
        sketch: clip.sketch,
      },
    ]),
    files: [{ path, checksums, conform: conformLines(facts, facts, { before: travels, after: travels }) }],
  };
}

async function soundOnly(
  order: HandoffOrder,
  repair: Repair,
  onProgress: (progress: Progress) => void,
): Promise<HandedOff> {
  const { clip, folder, scratch, span, bits } = order;
  const packing = packingFor(order.format, clip.inspection.format.container);
  const paths = await order.claim(pathsOf({ ...order, repair }));
  for (const path of paths) await mkdir(dirname(join(folder, path)), { recursive: true });
  const own = await ownFolder(scratch);
  const receipt = await write(
    order,
    {
      clip: { ...(span ? clipWithin(clip, span) : clip), name: basename(clip.path) },
      repair: span ? repairWithin(repair, span) : repair,
      channelNames: clip.facts.trackNames,
      words: outputWords(bits, clip.pcm.words, packing),
      isCut: span !== null,
      done: whatWasDone(repair),
      targets: paths.map((path) => join(folder, path)),
      packing: packing && { as: packing, folder: own },
      overwrite: true,
      sketchFolder: own,
    },
    onProgress,
  ).finally(() => rm(own, { recursive: true, force: true }));
  const before = soundFactsOf(clip);
  const { container } = clip.inspection.format;
  const travels = await travelling(clip.path, packing ?? 'wav');
  const files: HandedOffFile[] = [];
  for (const [i, path] of paths.entries()) {
    const { format, facts } = await headOf(join(folder, path));
    const { frames, durationSeconds } = receipt.files[i].after.format;
    const after = soundFacts({ ...format, frames, durationSeconds }, facts);
    const asked: WhatWasAsked = {
      ...{ isRepaired: true, changesChannels: before.channels !== after.channels, isCut: span !== null },
      changesForm: clip.inspection.format.container !== format.container || bits !== 'same',
      ...{ isCoded: false, sampleRate: format.sampleRate },
    };
    files.push({
      path,
      checksums: await checksumsOf(join(folder, path)),
      conform: conformLines(
        before,
        after,
        { before: travels, after: await travelling(join(folder, path), container) },
        asked,
      ),
    });
  }
  return { receipt, files };
}
