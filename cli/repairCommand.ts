import { mkdir, mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, extname, join, resolve } from 'node:path';
import type { SampleFormat } from '@pocket-twin/core/pcm/sampleFormat.ts';
import { repairName } from '@pocket-twin/core/repair/describe.ts';
import type { Receipt } from '@pocket-twin/core/schema/receipt.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { encodeFlac } from '@pocket-twin/media/encodeFlac.ts';
import { inspectFile, type Inspected } from '@pocket-twin/media/inspectFile.ts';
import { proveRendered, renderFile, type RenderJob } from '@pocket-twin/media/renderFile.ts';
import { REPAIR_HELP } from './help.ts';
import { EXIT } from './main.ts';
import { progressBar } from './progress.ts';
import { readRepairWords, type RepairWords } from './repairWords.ts';

export async function repairCommand(args: string[]): Promise<number> {
  const words = await readRepairWords(args);
  if (words.help) {
    process.stdout.write(REPAIR_HELP);
    return EXIT.nothing;
  }
  await mkdir(words.out, { recursive: true }).catch(() => {
    throw new Refusal('bad-request', `The folder ${words.out} can’t be made. Choose another with --out.`);
  });
  let status: number = EXIT.nothing;
  const scratch = await mkdtemp(join(tmpdir(), 'pocket-twin-'));
  try {
    for (const file of words.files) {
      try {
        const wrote = await repairOne(file, words, scratch);
        if (wrote && status === EXIT.nothing) status = EXIT.found;
      } catch (error) {
        if (!(error instanceof Refusal)) throw error;
        process.stdout.write(words.json ? `${JSON.stringify({ file, error: error.message, receipt: null })}\n` : `${file}\n  ${error.message}\n\n`);
        status = EXIT.off;
      }
    }
  } finally {
    await rm(scratch, { recursive: true, force: true });
  }
  return status;
}

/** @returns whether anything was written */
async function repairOne(file: string, words: RepairWords, scratch: string): Promise<boolean> {
  const bar = progressBar(basename(file));
  try {
    const inspected = await inspectFile(file, { workingCopy: join(scratch, 'working.pcm'), onProgress: ({ stage, share }) => { if (stage === 'measuring') bar.show(share / 3); } });
    const repair = words.repairFor(inspected.inspection);
    if (!repair) {
      bar.done();
      const { reason } = inspected.inspection.suggestion;
      process.stdout.write(words.json ? `${JSON.stringify({ file, error: null, receipt: null, leftAlone: reason })}\n` : `${file}\n  Left alone. ${reason}\n\n`);
      return false;
    }
    if (repair.inputChannels !== inspected.inspection.format.channels) {
      throw new Refusal('bad-request', `${basename(file)} has ${inspected.inspection.format.channels} channels; the recipe is for ${repair.inputChannels}.`);
    }
    const receipt = await write(file, repair, inspected, words, scratch, (share) => bar.show(1 / 3 + share / 3));
    bar.done();
    process.stdout.write(words.json ? `${JSON.stringify({ file, error: null, receipt })}\n` : receiptText(file, receipt));
    return true;
  } finally {
    bar.done();
  }
}

async function write(
  file: string, repair: Repair, { inspection, pcm }: Inspected, words: RepairWords, scratch: string, onProgress: (share: number) => void,
): Promise<Receipt> {
  const flac = words.format === 'flac' || (words.format === 'same' && inspection.format.container === 'flac');
  const stem = basename(file, extname(file));
  const finals = repair.outputs.map(({ suffix }) => join(words.out, `${stem}${suffix}.${flac ? 'flac' : 'wav'}`));
  for (const target of finals) {
    if (words.overwrite && resolve(target) === resolve(file)) {
      throw new Refusal('not-allowed', `${basename(file)} is the original, and originals are never replaced. Choose another --out.`);
    }
  }
  const job: RenderJob = {
    source: pcm!,
    chunksFrom: inspection.format.container === 'wav' ? file : null,
    repair,
    words: outputWords(words.bits, pcm!.words, flac),
    targets: flac ? repair.outputs.map((_, i) => join(scratch, `output-${i}.wav`)) : finals,
    overwrite: flac || words.overwrite,
    onProgress,
  };
  const rendered = await renderFile(job);
  const files = await proveRendered(job, rendered);
  if (flac) {
    for (let i = 0; i < finals.length; i++) {
      files[i].name = basename(await encodeFlac(rendered.paths[i], finals[i], words.overwrite));
      await rm(rendered.paths[i]);
    }
  }
  return {
    version: 1, source: basename(file), repair, levelGainDb: rendered.levelGainDb, before: inspection, files, writtenAt: new Date().toISOString(),
  };
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

function receiptText(file: string, receipt: Receipt): string {
  const lines = receipt.files.map((written) => {
    const { differingFrames } = written.proof;
    const proof = differingFrames > 0
      ? `DIFFERS in ${differingFrames} frames: do not use it`
      : written.exact ? 'every sample is the one that was read' : 'calculated, read back and compared';
    return `  ${written.name}: ${proof}.\n`;
  });
  return `${file}\n  ${repairName(receipt.repair)}.\n${lines.join('')}\n`;
}
