import { mkdir, mkdtemp, rm } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import type { Progress } from '@pocket-twin/core/contract/events.ts';
import type { FileStamp } from '@pocket-twin/core/contract/jobs.ts';
import { conformLines, type ConformFacts } from '@pocket-twin/core/handoff/conform.ts';
import type { ManifestEntry } from '@pocket-twin/core/handoff/manifest.ts';
import { pathsFor } from '@pocket-twin/core/handoff/paths.ts';
import { outputWords, packingFor } from '@pocket-twin/core/pcm/packing.ts';
import { bytesPerSample } from '@pocket-twin/core/pcm/sampleFormat.ts';
import { planSentence } from '@pocket-twin/core/repair/plan/planSentence.ts';
import { leaveAsItIs } from '@pocket-twin/core/repair/plan/plans.ts';
import { repairWithin } from '@pocket-twin/core/repair/plan/within.ts';
import type { ClipSums } from '@pocket-twin/core/measure/stream/clipSums.ts';
import type { ClipFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import type { ConformLine, HandoffBits, HandoffFormat } from '@pocket-twin/core/schema/handoff.ts';
import type { ClipFormat, Inspection } from '@pocket-twin/core/schema/inspection.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import type { Receipt } from '@pocket-twin/core/schema/receipt.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import type { Sketch } from '@pocket-twin/core/schema/sketch.ts';
import type { FrameSpan } from '@pocket-twin/core/time/spans.ts';
import { timecodeFromSeconds } from '@pocket-twin/core/time/timecode.ts';
import { adoptWhole } from '../disk/wholeFile.ts';
import type { CodedInput } from '../ffmpeg/coded.ts';
import { identifyContainer } from '../read/container.ts';
import { FileSource } from '../read/fileSource.ts';
import { inspectFile } from '../read/inspectFile.ts';
import { openSource } from '../read/openSource.ts';
import type { Source } from '../read/source.ts';
import { inThread } from '../threads/inThread.ts';
import { writeRepair, type WriteOrder } from '../write/writeRepair.ts';
import { checksumsOf } from './checksums.ts';
import { muxerFor, muxSound } from './muxSound.ts';
import { pictureHash } from './pictureHash.ts';
import { proveFilm, type ProvenSound } from './proveFilm.ts';

export interface HandoffClip {
  path: string;
  inspection: Inspection;
  facts: ClipFacts;
  pcm: PcmLocation;
  /** Its ribbon in little. */
  sketch: Sketch | null;
  /** What measuring it has added up, or the file where that is kept. */
  sums: ClipSums | string | null;
  /** What the file was when it was measured; null where it is ours. */
  stamp: FileStamp | null;
}

export interface HandoffOrder {
  clip: HandoffClip;
  /** null leaves the clip as it is. */
  repair: Repair | null;
  /** Only this stretch of its sound; null is all of it. What has a picture, or needs nothing, is never cut. */
  span: FrameSpan | null;
  folder: string;
  /** Where its files go within the folder, without the suffix of several and the ending. */
  stem: string;
  format: HandoffFormat;
  bits: HandoffBits;
  /** Where a container takes coded sound alone, at so many kbit/s for each channel. */
  codedKbits: number;
  /** A folder for what is not whole yet, on the same disk. */
  scratch: string;
  /** Measuring and writing go to threads of their own; else they are done in this one. */
  inThreads: boolean;
  /** Gives paths within the folder that nothing else has; asked once for a clip. */
  claim: (paths: string[]) => Promise<string[]>;
  /** Stops what goes on in threads, and what has not begun. */
  signal?: AbortSignal;
}

/** A written file: its path within the folder, old against new, and its checksums. */
interface HandedOffFile {
  path: string;
  conform: ConformLine[];
  checksums: Omit<ManifestEntry, 'path'>;
}

export interface HandedOff {
  receipt: Receipt;
  files: HandedOffFile[];
}

/** Writes one clip's files for the edit: a copy where nothing is done, else repaired, with its picture where it has one; then holds old against new. */
export async function handOffClip(order: HandoffOrder, onProgress: (progress: Progress) => void): Promise<HandedOff> {
  const { clip, repair, format, bits } = order;
  const { hasVideo } = clip.inspection.format;
  const isCopy = repair === null && format === 'same' && (bits === 'same' || hasVideo);
  if (isCopy) return copied(order);
  const plan = repair ?? leaveAsItIs(clip.pcm.channels);
  return hasVideo && format === 'same' ? withPicture(order, plan, onProgress) : soundOnly(order, plan, onProgress);
}

async function copied(order: HandoffOrder): Promise<HandedOff> {
  const { clip, folder, claim } = order;
  const [path] = await claim(pathsOf(order));
  const target = join(folder, path);
  await mkdir(dirname(target), { recursive: true });
  await adoptWhole(clip.path, target, true);
  const checksums = await checksumsOf(target);
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
    files: [{ path, checksums, conform: conformLines(facts, facts) }],
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
      done: planSentence(repair).replace(/\.$/, ''),
      targets: paths.map((path) => join(folder, path)),
      packing: packing && { as: packing, folder: own },
      overwrite: true,
      sketchFolder: own,
    },
    onProgress,
  ).finally(() => rm(own, { recursive: true, force: true }));
  const before = soundFactsOf(clip);
  const files: HandedOffFile[] = [];
  for (const [i, path] of paths.entries()) {
    const { format, facts } = await headOf(join(folder, path));
    const { frames, durationSeconds } = receipt.files[i].after.format;
    files.push({
      path,
      checksums: await checksumsOf(join(folder, path)),
      conform: conformLines(before, soundFacts({ ...format, frames, durationSeconds }, facts)),
    });
  }
  return { receipt, files };
}

/** Clips are worked on side by side, and may be called alike: each has a folder of its own in the scratch folder. */
function ownFolder(scratch: string): Promise<string> {
  return mkdtemp(join(scratch, 'clip-'));
}

/** What a written file says of itself. */
async function headOf(path: string): Promise<Pick<Source, 'format' | 'facts'>> {
  const source = await openSource(path);
  await source.close();
  return source;
}

/** A stretch of a clip's sound: its words where they lie, its start in its own time. */
function clipWithin(clip: HandoffClip, { startFrame, endFrame }: FrameSpan): HandoffClip {
  const { pcm, facts } = clip;
  const frameBytes = pcm.channels * bytesPerSample(pcm.words);
  return {
    ...clip,
    // Those are of all of it.
    ...{ sketch: null, sums: null },
    pcm: { ...pcm, offsetBytes: pcm.offsetBytes + startFrame * frameBytes, frames: endFrame - startFrame },
    facts: { ...facts, startSamples: (facts.startSamples ?? 0) + startFrame },
  };
}

/** Several outputs of a clip with picture become sound streams of one file: the edit has one clip still. */
async function withPicture(
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

function pathsOf({ clip, repair, format, stem }: HandoffOrder): string[] {
  const { container, hasVideo } = clip.inspection.format;
  return pathsFor(
    { fileName: basename(clip.path), container, hasVideo, repair, format, trackNames: clip.facts.trackNames },
    stem,
  );
}

function ensureGoesOn(signal: AbortSignal | undefined): void {
  if (signal?.aborted) throw new Refusal('cancelled', 'Cancelled.');
}

function write(
  { inThreads, signal }: HandoffOrder,
  job: WriteOrder,
  onProgress: (progress: Progress) => void,
): Promise<Receipt> {
  return inThreads ? inThread('write', job, { onProgress, signal }) : writeRepair(job, onProgress);
}

function receiptOf({ path, inspection, sketch }: HandoffClip, repair: Repair, files: Receipt['files']): Receipt {
  return {
    version: 1,
    source: basename(path),
    repair,
    levelGainDb: 0,
    before: inspection,
    sketch,
    files,
    writtenAt: new Date().toISOString(),
  };
}

function soundFactsOf({ inspection, facts }: Pick<HandoffClip, 'inspection' | 'facts'>): ConformFacts {
  return soundFacts(inspection.format, facts);
}

function soundFacts(
  { frames, sampleRate, bitDepth, codec, channels, durationSeconds }: ClipFormat,
  { startSamples, frameRate, streams }: ClipFacts,
): ConformFacts {
  // Without a timecode a recording starts at nought, and so does one that says so.
  const start = startSamples ? startSamples / sampleRate : null;
  return {
    ...{ frames, sampleRate, bitDepth, codec, channels },
    layout:
      streams.length > 1 ? `${streams.length} streams` : channels === 1 ? 'mono' : channels === 2 ? 'stereo' : null,
    timecode: start === null ? null : frameRate ? timecodeFromSeconds(start, frameRate) : `${startSamples} samples`,
    durationSeconds: Math.round(durationSeconds * 1000) / 1000,
    pictureHash: null,
    pictureFrames: null,
  };
}

async function inputOf(path: string): Promise<CodedInput> {
  const file = await FileSource.open(path);
  try {
    const { demuxer } = await identifyContainer(file, basename(path));
    return { path, demuxer: demuxer ?? 'wav' };
  } finally {
    await file.close();
  }
}
