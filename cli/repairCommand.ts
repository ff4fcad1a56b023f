import { mkdir, rm } from 'node:fs/promises';
import { basename, join } from 'node:path';
import type { SampleFormat } from '@pocket-twin/core/pcm/sampleFormat.ts';
import { outputSuffixes } from '@pocket-twin/core/repair/plan/outputNames.ts';
import { damagedFile } from '@pocket-twin/core/repair/plan/readBack.ts';
import { repairName } from '@pocket-twin/core/repair/plan/describe.ts';
import type { FileStamp } from '@pocket-twin/core/contract/jobs.ts';
import type { Receipt } from '@pocket-twin/core/schema/receipt.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { stampOf } from '@pocket-twin/media/disk/fileStamp.ts';
import { inspectFile, type Inspected } from '@pocket-twin/media/read/inspectFile.ts';
import { makeScratch } from '@pocket-twin/media/disk/scratch.ts';
import { inThread } from '@pocket-twin/media/threads/inThread.ts';
import { writeRepair, type WriteOrder } from '@pocket-twin/media/write/writeRepair.ts';
import { EXIT } from './exit.ts';
import { REPAIR_HELP } from './help.ts';
import { eachFile, type FileSlot } from './manyFiles.ts';
import { identitiesOf, isOneOf, stemsFor } from './outputPlaces.ts';
import { readRepairWords, type RepairWords } from './repairWords.ts';

type Repaired = { receipt: Receipt } | { leftAlone: string; mustDecide: boolean };

export async function repairCommand(args: string[]): Promise<number> {
  const words = await readRepairWords(args);
  if (words.help) {
    process.stdout.write(REPAIR_HELP);
    return EXIT.done;
  }
  await mkdir(words.out, { recursive: true }).catch(() => {
    throw new Refusal('bad-request', `The folder ${words.out} can’t be made. Choose another with --out.`);
  });
  const scratch = await makeScratch(join(words.out, 'any'));
  const order: Order = { words, scratch, stems: stemsFor(words.files), originals: await identitiesOf(words.files) };
  let status: number = EXIT.done;
  try {
    const leftOut = await eachFile(
      words.files,
      (file, slot) => repairOne(file, slot, order),
      (outcome) => {
        process.stdout.write(words.json ? `${JSON.stringify(jsonFor(outcome))}\n` : textFor(outcome));
        if ('error' in outcome || ('receipt' in outcome.result && damagedFile(outcome.result.receipt)))
          status = EXIT.off;
        else if ('leftAlone' in outcome.result && outcome.result.mustDecide && status === EXIT.done)
          status = EXIT.found;
      },
    );
    if (leftOut > 0)
      throw new Refusal('cancelled', `Stopped: ${leftOut} of ${words.files.length} files were not repaired.`);
  } finally {
    await rm(scratch, { recursive: true, force: true });
  }
  return status;
}

interface Order {
  words: RepairWords;
  scratch: string;
  /** What the written files of each input are called, without suffix and ending: no two the same. */
  stems: string[];
  originals: Set<string>;
}

async function repairOne(file: string, slot: FileSlot, order: Order): Promise<Repaired> {
  const { words, scratch } = order;
  const workingCopy = join(scratch, `${slot.index}.pcm`);
  const options = {
    onProgress: ({ stage, share }: { stage: string; share: number }) => {
      if (stage === 'measuring') slot.onProgress(share / 2);
    },
  };
  try {
    const measured = await stampOf(file);
    const inspected = slot.ownThread
      ? await inThread('look', { path: file, workingCopy }, options)
      : await inspectFile(file, { workingCopy, ...options });
    const { format, suggestion } = inspected.inspection;
    const repair = words.repairFor(inspected.inspection);
    if (!repair) return { leftAlone: suggestion.reason, mustDecide: suggestion.action !== 'none' };
    if (repair.inputChannels !== format.channels)
      throw new Refusal(
        'bad-request',
        `${basename(file)} has ${format.channels} channels; the recipe is for ${repair.inputChannels}.`,
      );
    return { receipt: await write(file, measured, repair, inspected, slot, order) };
  } finally {
    await rm(workingCopy, { force: true });
  }
}

async function write(
  file: string,
  measured: FileStamp,
  repair: Repair,
  { inspection, facts, pcm }: Inspected,
  slot: FileSlot,
  { words, scratch, stems, originals }: Order,
): Promise<Receipt> {
  const flac = words.format === 'flac' || (words.format === 'same' && inspection.format.container === 'flac');
  const finals = outputSuffixes(repair, facts.trackNames).map((suffix) =>
    join(words.out, `${stems[slot.index]}${suffix}.${flac ? 'flac' : 'wav'}`),
  );
  for (const target of finals) {
    if (words.overwrite && (await isOneOf(originals, target)))
      throw new Refusal(
        'not-allowed',
        `${target} is an original, and originals are never replaced. Choose another --out.`,
      );
  }
  const job: WriteOrder = {
    clip: { path: file, name: basename(file), inspection, facts, pcm: pcm!, stamp: measured },
    repair,
    channelNames: facts.trackNames,
    words: outputWords(words.bits, pcm!.words, flac),
    targets: finals,
    flacBy: flac ? scratch : null,
    overwrite: words.overwrite,
  };
  const options = { onProgress: ({ share }: { share: number }) => slot.onProgress((1 + share) / 2) };
  return slot.ownThread ? inThread('write', job, options) : writeRepair(job, options.onProgress);
}

function outputWords(bits: RepairWords['bits'], source: SampleFormat, flac: boolean): SampleFormat {
  if (bits === '32f') {
    if (flac) throw new Refusal('bad-request', 'FLAC holds whole numbers: choose --bits 16 or 24, or --format wav.');
    return { kind: 'float', bits: 32 };
  }
  if (bits) return { kind: 'integer', bits: bits === '16' ? 16 : 24 };
  if (flac && (source.kind === 'float' || source.bits > 24)) return { kind: 'integer', bits: 24 };
  return source;
}

type Told = Parameters<Parameters<typeof eachFile<Repaired>>[2]>[0];

function jsonFor(outcome: Told): object {
  if ('error' in outcome) return { file: outcome.file, error: outcome.error, receipt: null };
  const { file, result } = outcome;
  return 'receipt' in result
    ? { file, error: null, receipt: result.receipt }
    : { file, error: null, receipt: null, leftAlone: result.leftAlone };
}

function textFor(outcome: Told): string {
  if ('error' in outcome) return `${outcome.file}\n  ${outcome.error}\n\n`;
  const { file, result } = outcome;
  return 'receipt' in result ? receiptText(file, result.receipt) : `${file}\n  Left alone. ${result.leftAlone}\n\n`;
}

function receiptText(file: string, receipt: Receipt): string {
  const lines = receipt.files.map(({ name, exact, heldSamples, proof: { differingFrames } }) => {
    const proof =
      differingFrames > 0
        ? `DIFFERS in ${differingFrames} frames: do not use it`
        : exact
          ? 'every sample is one that was read'
          : 'calculated, read back and compared';
    return `  ${name}: ${proof}${heldSamples > 0 ? `; ${heldSamples} beyond full scale are held there` : ''}.\n`;
  });
  return `${file}\n  ${repairName(receipt.repair)}.\n${lines.join('')}\n`;
}
