import { rm } from 'node:fs/promises';
import { basename, join, resolve } from 'node:path';
import type { FileStamp } from '@pocket-twin/core/contract/jobs.ts';
import { outputWords, packingFor } from '@pocket-twin/core/pcm/packing.ts';
import { commonGainDb, type Programme } from '@pocket-twin/core/repair/plan/commonGainDb.ts';
import { outputSuffixes } from '@pocket-twin/core/repair/plan/outputNames.ts';
import { findOn } from '@pocket-twin/core/repair/propose/findOn.ts';
import type { ClipSums } from '@pocket-twin/core/measure/stream/clipSums.ts';
import type { Receipt } from '@pocket-twin/core/schema/receipt.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { makeFolder } from '@pocket-twin/media/disk/makeFolder.ts';
import { stampOf } from '@pocket-twin/media/disk/fileStamp.ts';
import { makeScratch } from '@pocket-twin/media/disk/scratch.ts';
import { withClipSound } from '@pocket-twin/media/read/clipSound.ts';
import { inspectFile, type Inspected } from '@pocket-twin/media/read/inspectFile.ts';
import { inThread } from '@pocket-twin/media/threads/inThread.ts';
import { programmeOf } from '@pocket-twin/media/write/measureRepair.ts';
import { writeRepair, type WriteOrder } from '@pocket-twin/media/write/writeRepair.ts';
import { EXIT } from './exit.ts';
import { REPAIR_HELP } from './help.ts';
import { eachFile, type FileSlot, type Outcome } from './manyFiles.ts';
import { identitiesOf, isOneOf } from '@pocket-twin/media/disk/identity.ts';
import { stemsFor } from './outputPlaces.ts';
import { readRepairRequest, type Decided, type RepairRequest } from './repairRequest.ts';
import { isDamaged, jsonOf, textOf, type Repaired } from './repairResult.ts';

export async function repairCommand(args: string[]): Promise<number> {
  const request = await readRepairRequest(args);
  if (request.help) {
    process.stdout.write(REPAIR_HELP);
    return EXIT.done;
  }
  await makeFolder(resolve(request.out)).catch(() => {
    throw new Refusal('bad-request', `The folder ${request.out} can’t be made. Choose another with --out.`);
  });
  const scratch = await makeScratch(join(request.out, 'any'));
  const { files } = request;
  const order: Order = { request, scratch, stems: stemsFor(files), originals: await identitiesOf(files) };
  let status: number = EXIT.done;
  const tell = (outcome: Outcome<Repaired>): void => {
    process.stdout.write(request.json ? `${JSON.stringify(jsonOf(outcome))}\n` : textOf(outcome));
    if ('error' in outcome || isDamaged(outcome.result)) status = EXIT.off;
    else if ('leftAlone' in outcome.result && outcome.result.mustDecide && status === EXIT.done) status = EXIT.found;
  };
  try {
    const leftOut = request.sameGain
      ? await repairTogether(order, request.sameGain, tell)
      : await eachFile(files, (file, slot) => repairOne(file, slot, order), tell);
    if (leftOut > 0) throw new Refusal('cancelled', `Stopped: ${leftOut} of ${files.length} files were not repaired.`);
  } finally {
    await rm(scratch, { recursive: true, force: true });
  }
  return status;
}

interface Order {
  request: RepairRequest;
  scratch: string;
  /** What the written files of each input are called, without suffix and ending: no two the same. */
  stems: string[];
  originals: Set<string>;
}

/** A file that was looked at, and what is decided about it. */
interface Looked {
  file: string;
  stamp: FileStamp;
  inspected: Omit<Inspected, 'sums'> & { sums: ClipSums | null };
  decided: Decided;
}

async function repairOne(file: string, slot: FileSlot, order: Order): Promise<Repaired> {
  try {
    const looked = await lookAndDecide(file, slot, order);
    return 'repair' in looked.decided ? await write(looked, looked.decided, slot, order) : looked.decided;
  } finally {
    await rm(workingCopyOf(slot, order), { force: true });
  }
}

/** All files are looked at first, for the one gain that they get together; then they are written. */
async function repairTogether(
  order: Order,
  target: NonNullable<RepairRequest['sameGain']>,
  tell: (outcome: Outcome<Repaired>) => void,
): Promise<number> {
  const { files } = order.request;
  const outcomes: Outcome<Looked & { programme: Programme | null }>[] = [];
  const notLooked = await eachFile(
    files,
    async (file, slot) => {
      const looked = await lookAndDecide(file, slot, order);
      if (!('repair' in looked.decided)) return { ...looked, programme: null };
      const input = { source: looked.inspected.pcm!, repair: looked.decided.repair };
      const programme = slot.ownThread
        ? await inThread('programme', input)
        : await programmeOf(input.source, input.repair);
      return { ...looked, programme };
    },
    (outcome) => outcomes.push(outcome),
  );
  if (notLooked > 0) return notLooked;
  const programmes = outcomes.flatMap((outcome) => ('result' in outcome ? (outcome.result.programme ?? []) : []));
  const level = { ...target, commonGainDb: commonGainDb(programmes, target) };
  return eachFile(
    files,
    async (_, slot): Promise<Repaired> => {
      const outcome = outcomes[slot.index];
      if ('error' in outcome) throw new Refusal('bad-request', outcome.error);
      const { decided } = outcome.result;
      if (!('repair' in decided)) return decided;
      return write(outcome.result, { ...decided, repair: { ...decided.repair, level } }, slot, order);
    },
    tell,
  );
}

async function lookAndDecide(file: string, slot: FileSlot, order: Order): Promise<Looked> {
  const workingCopy = workingCopyOf(slot, order);
  const options = {
    onProgress: ({ stage, share }: { stage: string; share: number }) => {
      if (stage === 'measuring') slot.onProgress(share / 2);
    },
  };
  const stamp = await stampOf(file);
  const inspected = slot.ownThread
    ? await inThread('look', { path: file, workingCopy }, options)
    : await inspectFile(file, { workingCopy, ...options });
  const { inspection, pcm } = inspected;
  const decided = await order.request.decide(inspection, (base, finds) =>
    slot.ownThread
      ? inThread('find', { source: pcm!, base, finds, inspection })
      : withClipSound(pcm!, (sound) => findOn(base, finds, inspection, sound)),
  );
  // With a common gain every file is known before the first is written, and all of them are calculated.
  const sums = order.request.sameGain ? null : inspected.sums;
  return { file, stamp, inspected: { ...inspected, sums }, decided };
}

async function write(
  { file, stamp, inspected: { inspection, facts, pcm, sums } }: Looked,
  { repair, notes }: { repair: Repair; notes: string[] },
  slot: FileSlot,
  { request, scratch, stems, originals }: Order,
): Promise<{ receipt: Receipt; folder: string; notes: string[] }> {
  const packing = packingFor(request.format, inspection.format.container);
  const targets = outputSuffixes(repair, facts.trackNames).map((suffix) =>
    join(request.out, `${stems[slot.index]}${suffix}.${packing ?? 'wav'}`),
  );
  for (const target of targets) {
    if (request.overwrite && (await isOneOf(originals, target)))
      throw new Refusal(
        'not-allowed',
        `${target} is an original, and originals are never replaced. Choose another --out.`,
      );
  }
  const job: WriteOrder = {
    clip: { path: file, name: basename(file), inspection, facts, pcm: pcm!, sums, stamp },
    repair,
    channelNames: facts.trackNames,
    words: outputWords(request.bits ?? 'same', pcm!.words, packing),
    targets,
    packing: packing && { as: packing, folder: scratch },
    overwrite: request.overwrite,
  };
  const options = { onProgress: ({ share }: { share: number }) => slot.onProgress((1 + share) / 2) };
  const receipt = slot.ownThread ? await inThread('write', job, options) : await writeRepair(job, options.onProgress);
  return { receipt, folder: request.out, notes };
}

function workingCopyOf({ index }: FileSlot, { scratch }: Order): string {
  return join(scratch, `${index}.pcm`);
}
