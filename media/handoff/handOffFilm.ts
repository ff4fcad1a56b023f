import { rm } from 'node:fs/promises';
import { basename, join } from 'node:path';
import type { Progress } from '@pocket-twin/core/contract/events.ts';
import { conformLines } from '@pocket-twin/core/handoff/conform.ts';
import { outputWords } from '@pocket-twin/core/pcm/packing.ts';
import type { ClipFormat } from '@pocket-twin/core/schema/inspection.ts';
import type { Receipt } from '@pocket-twin/core/schema/receipt.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { inspectFile } from '../read/inspectFile.ts';
import { inThread } from '../threads/inThread.ts';
import { checksumsOf } from './checksums.ts';
import { muxerFor, muxSound } from './muxSound.ts';
import { proveFilm, type ProvenSound } from './proveFilm.ts';
import { type HandoffClip, type HandoffOrder, type HandedOff, pathsOf, ownFolder, write } from './handoffOrder.ts';
import { soundFactsOf, soundFacts, headOf, inputOf } from './fileFacts.ts';

/** Several outputs of a clip with picture become sound streams of one file: the edit has one clip still. */
export async function handOffFilm(
  order: HandoffOrder,
  repair: Repair,
  onProgress: (progress: Progress) => void,
): Promise<HandedOff> {
  const { clip, folder, scratch, bits, signal } = order;
  const { container } = clip.inspection.format;
  const muxer = muxerFor(container);
  if (!muxer)
    throw new Refusal(
      'bad-request',
      `The sound of a ${container} file can’t be replaced in place. Choose WAV for it: then its sound is written alone.`,
    );
  const soundFolder = await ownFolder(scratch);
  try {
    const wanted = outputWords(bits, clip.pcm.words, null);
    // A coder takes whole numbers.
    const words = wanted.kind === 'float' && !muxer.pcm ? { kind: 'integer' as const, bits: 24 as const } : wanted;
    const wavs = repair.outputs.map((output, i) => ({
      path: join(soundFolder, `${i}.wav`),
      channels: output.routes.length,
    }));
    const written = await write(
      order,
      {
        clip: { ...clip, name: basename(clip.path) },
        repair,
        channelNames: clip.facts.trackNames,
        words,
        targets: wavs.map(({ path }) => path),
        packing: null,
        overwrite: true,
        sketchFolder: soundFolder,
      },
      onProgress,
    );
    ensureGoesOn(signal);
    const original = await inputOf(clip.path);
    // The head of a recording that was measured before this was looked at is read once more.
    const picture = clip.facts.picture ?? (await headOf(clip.path)).facts.picture;
    const [path] = await order.claim(pathsOf({ ...order, repair }));
    const target = join(folder, path);
    const pictureBefore = await muxSound({
      ...{ original, container, wavs, words, scratch: soundFolder, target, overwrite: true },
      codedKbits: order.codedKbits,
      soundStartSeconds: picture?.soundStartSeconds ?? 0,
    });
    ensureGoesOn(signal);
    const input = await inputOf(target);
    const [proof, checksums] = await Promise.all([
      proveFilm(input, muxer.pcm ? wavs.map((wav) => wav.path) : []),
      checksumsOf(target),
    ]);
    const receipt = muxer.pcm
      ? provenAs(clip, written, path, proof.sounds)
      : await measuredAs(order, written, path, soundFolder);
    const now = await headOf(target);
    const before = { ...soundFactsOf(clip), pictureHash: pictureBefore, pictureFrames: picture?.frames ?? null };
    const after = {
      ...soundFacts({ ...now.format, ...lengthOf(receipt) }, now.facts),
      ...{ pictureHash: proof.pictureHash, pictureFrames: now.facts.picture?.frames ?? null },
    };
    return { receipt, files: [{ path, checksums, conform: conformLines(before, after) }] };
  } finally {
    await rm(soundFolder, { recursive: true, force: true });
  }
}

/** Words that were read back out of the container and compared: what was measured of them holds. */
function provenAs(
  { inspection: { format } }: HandoffClip,
  written: Receipt,
  path: string,
  sounds: readonly ProvenSound[],
): Receipt {
  const files = written.files.map((file, i) => {
    const { frames, differingFrames } = sounds[i];
    const proof = { ...file.proof, differingFrames: Math.max(file.proof.differingFrames, differingFrames) };
    const after = {
      ...file.after,
      format: { ...file.after.format, frames, container: format.container, hasVideo: true },
    };
    return { ...file, name: basename(path), frames, proof, after };
  });
  return { ...written, files };
}

/** What a coder made of the words is measured anew, and exact no longer. */
async function measuredAs(
  { folder, inThreads, signal }: HandoffOrder,
  written: Receipt,
  path: string,
  scratch: string,
): Promise<Receipt> {
  const look = { path: join(folder, path), workingCopy: join(scratch, 'after.pcm') };
  const { inspection: after } = await (inThreads ? inThread('look', look, { signal }) : inspectFile(look.path, look));
  const { frames } = after.format;
  const files = written.files.map((file) => ({
    ...file,
    ...{ name: basename(path), frames, after, exact: false, exactOutside: null },
  }));
  return { ...written, files };
}

function lengthOf({ files }: Receipt): Pick<ClipFormat, 'frames' | 'durationSeconds'> {
  const [{ frames, after }] = files;
  return { frames, durationSeconds: frames / after.format.sampleRate };
}

function ensureGoesOn(signal: AbortSignal | undefined): void {
  if (signal?.aborted) throw new Refusal('cancelled', 'Cancelled.');
}
