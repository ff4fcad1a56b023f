import { mkdir, rm } from 'node:fs/promises';
import { basename, dirname, extname, join } from 'node:path';
import type { Progress } from '@pocket-twin/core/contract/events.ts';
import { conformLines, type ConformFacts, type ConformLine } from '@pocket-twin/core/handoff/conform.ts';
import type { SampleFormat } from '@pocket-twin/core/pcm/sampleFormat.ts';
import { planSentence } from '@pocket-twin/core/repair/plan/planSentence.ts';
import { leaveAsItIs } from '@pocket-twin/core/repair/plan/plans.ts';
import { outputSuffixes } from '@pocket-twin/core/repair/plan/outputNames.ts';
import type { ClipFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import type { ClipFormat, Inspection } from '@pocket-twin/core/schema/inspection.ts';
import type { FileStamp } from '@pocket-twin/core/contract/jobs.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import type { Receipt } from '@pocket-twin/core/schema/receipt.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { repairWithin } from '@pocket-twin/core/repair/plan/within.ts';
import { bytesPerSample } from '@pocket-twin/core/pcm/sampleFormat.ts';
import type { FrameSpan } from '@pocket-twin/core/time/spans.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { timecodeFromSeconds } from '@pocket-twin/core/time/timecode.ts';
import { adoptWhole } from '../disk/wholeFile.ts';
import { probeFile } from '../ffmpeg/probe.ts';
import { identifyContainer } from '../read/container.ts';
import { FileSource } from '../read/fileSource.ts';
import { openSource } from '../read/openSource.ts';
import type { Source } from '../read/source.ts';
import { inspectFile } from '../read/inspectFile.ts';
import type { Packing } from '../write/packWav.ts';
import { inThread } from '../threads/inThread.ts';
import { writeRepair, type WriteOrder } from '../write/writeRepair.ts';
import { checksumsOf } from './checksums.ts';
import { muxerFor, muxSound } from './muxSound.ts';
import { pictureHash } from './pictureHash.ts';

export interface HandoffClip {
  path: string;
  inspection: Inspection;
  facts: ClipFacts;
  pcm: PcmLocation;
  stamp: FileStamp;
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
  format: 'same' | 'wav' | 'flac' | 'aiff';
  words: SampleFormat;
  /** A folder for what is not whole yet, on the same disk. */
  scratch: string;
  /** Measuring and writing go to threads of their own; else they are done in this one. */
  inThreads: boolean;
  /** Gives paths within the folder that nothing else has; asked once for a clip. */
  claim: (paths: string[]) => Promise<string[]>;
}

export interface HandedOff {
  receipt: Receipt;
  /** Paths within the folder, and old against new for each. */
  files: { path: string; conform: ConformLine[] }[];
}

/** Writes one clip's files for the edit: a copy where nothing is done, else repaired, with its picture where it has one; then holds old against new. */
export async function handOffClip(order: HandoffOrder, onProgress: (progress: Progress) => void): Promise<HandedOff> {
  const { clip, repair, format } = order;
  const { hasVideo } = clip.inspection.format;
  if (repair === null && format === 'same') return copied(order);
  if (hasVideo && format === 'same') return withPicture(order, repair ?? leaveAsItIs(clip.pcm.channels), onProgress);
  return soundOnly(order, repair ?? leaveAsItIs(clip.pcm.channels), onProgress);
}

async function copied(order: HandoffOrder): Promise<HandedOff> {
  const { clip, folder, stem, claim } = order;
  const [path] = await claim([`${stem}${extname(clip.path)}`]);
  const target = join(folder, path);
  await mkdir(dirname(target), { recursive: true });
  await adoptWhole(clip.path, target, true);
  const isSame = (await checksumsOf(clip.path)).sha256 === (await checksumsOf(target)).sha256;
  const { frames } = clip.inspection.format;
  const facts = await factsOf(clip);
  return {
    receipt: receiptOf(clip, leaveAsItIs(clip.pcm.channels), [
      {
        ...{ name: basename(path), bytes: clip.stamp.bytes, frames, exact: true, exactOutside: [], heldSamples: 0 },
        proof: { comparedFrames: frames, differingFrames: isSame ? 0 : frames },
        after: clip.inspection,
      },
    ]),
    files: [{ path, conform: conformLines(facts, facts) }],
  };
}

async function soundOnly(
  order: HandoffOrder,
  repair: Repair,
  onProgress: (progress: Progress) => void,
): Promise<HandedOff> {
  const { clip, folder, words, scratch, span } = order;
  const packing = packingFor(order.format, clip.inspection.format.container);
  const ending = endingFor(packing, clip.path);
  const paths = await order.claim(
    outputSuffixes(repair, clip.facts.trackNames).map((suffix) => `${order.stem}${suffix}${ending}`),
  );
  for (const path of paths) await mkdir(dirname(join(folder, path)), { recursive: true });
  const receipt = await write(
    order,
    {
      clip: { ...(span ? clipWithin(clip, span) : clip), name: basename(clip.path) },
      repair: span ? repairWithin(repair, span) : repair,
      channelNames: clip.facts.trackNames,
      words,
      isCut: span !== null,
      done: planSentence(repair).replace(/\.$/, ''),
      targets: paths.map((path) => join(folder, path)),
      packing: packing && { as: packing, folder: scratch },
      overwrite: true,
    },
    onProgress,
  );
  const before = await factsOf(clip);
  const files: HandedOff['files'] = [];
  for (const [i, path] of paths.entries()) {
    const { format, facts } = await headOf(join(folder, path));
    const { frames, durationSeconds } = receipt.files[i].after.format;
    files.push({ path, conform: conformLines(before, soundFacts({ ...format, frames, durationSeconds }, facts)) });
  }
  return { receipt, files };
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
  const { clip, folder, scratch } = order;
  const { container } = clip.inspection.format;
  const muxer = muxerFor(container);
  if (!muxer)
    throw new Refusal(
      'bad-request',
      `The sound of a ${container} file can’t be replaced in place. Choose --format wav.`,
    );
  const soundFolder = join(scratch, `sound-${basename(order.stem)}-${process.hrtime.bigint()}`);
  await mkdir(soundFolder);
  try {
    // The words that the file held, where it held words at all.
    const words =
      order.words.kind === 'float' && !muxer.pcm ? { kind: 'integer' as const, bits: 24 as const } : order.words;
    const wavs = repair.outputs.map((output, i) => ({
      path: join(soundFolder, `${i}.wav`),
      channels: output.routes.length,
    }));
    const receipt = await write(
      order,
      {
        clip: { ...clip, name: basename(clip.path) },
        repair,
        channelNames: clip.facts.trackNames,
        words,
        targets: wavs.map(({ path }) => path),
        packing: null,
        overwrite: true,
      },
      onProgress,
    );
    const original = await inputOf(clip.path);
    const probed = await probeFile(original);
    const [path] = await order.claim([`${order.stem}${extname(clip.path)}`]);
    await muxSound({
      ...{ original, container, wavs, words, scratch: soundFolder, target: join(folder, path), overwrite: true },
      soundStartSeconds: (probed.audio[0]?.startSeconds ?? 0) - probed.startSeconds,
    });
    const workingCopy = join(soundFolder, 'after.pcm');
    const look = { path: join(folder, path), workingCopy };
    const after = await (order.inThreads ? inThread('look', look) : inspectFile(look.path, look));
    const [before, now] = [await factsOf(clip), await factsOf({ path: join(folder, path), ...after })];
    return {
      receipt: {
        ...receipt,
        files: receipt.files.map((file) => ({
          ...file,
          name: basename(path),
          bytes: file.bytes,
          frames: after.inspection.format.frames,
          // What a coder makes of the words is no longer they.
          exact: file.exact && muxer.pcm,
          exactOutside: muxer.pcm ? file.exactOutside : null,
          after: after.inspection,
        })),
      },
      files: [{ path, conform: conformLines(before, now) }],
    };
  } finally {
    await rm(soundFolder, { recursive: true, force: true });
  }
}

function write(
  { inThreads }: HandoffOrder,
  job: WriteOrder,
  onProgress: (progress: Progress) => void,
): Promise<Receipt> {
  return inThreads ? inThread('write', job, { onProgress }) : writeRepair(job, onProgress);
}

function receiptOf({ path, inspection }: HandoffClip, repair: Repair, files: Receipt['files']): Receipt {
  return {
    version: 1,
    source: basename(path),
    repair,
    levelGainDb: 0,
    before: inspection,
    files,
    writtenAt: new Date().toISOString(),
  };
}

function packingFor(format: HandoffOrder['format'], container: string): Packing | null {
  if (format === 'flac' || format === 'aiff') return format;
  if (format === 'wav') return null;
  if (container === 'flac') return 'flac';
  return container === 'aiff' || container === 'aifc' ? 'aiff' : null;
}

/** A file of its own kind keeps its ending as it was written; what becomes another gets that one's. */
function endingFor(packing: Packing | null, path: string): string {
  const own = extname(path);
  const isOwn =
    packing === null ? /^\.(wav|wave|bwf|rf64|bw64)$/i : packing === 'flac' ? /^\.flac$/i : /^\.(aif|aiff|aifc)$/i;
  if (isOwn.test(own)) return own;
  return `.${packing ?? 'wav'}`;
}

async function factsOf(clip: { path: string; inspection: Inspection; facts: ClipFacts }): Promise<ConformFacts> {
  const sound = soundFacts(clip.inspection.format, clip.facts);
  if (!clip.inspection.format.hasVideo) return sound;
  const input = await inputOf(clip.path);
  const hash = await pictureHash(input);
  const { pictureRate, durationSeconds } = await probeFile(input);
  const [numerator, denominator] = (pictureRate ?? '0/1').split('/').map(Number);
  return {
    ...sound,
    pictureSha256: hash,
    pictureFrames: durationSeconds && denominator ? Math.round((durationSeconds * numerator) / denominator) : null,
  };
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
    pictureSha256: null,
    pictureFrames: null,
  };
}

async function inputOf(path: string): Promise<{ path: string; demuxer: string }> {
  const file = await FileSource.open(path);
  try {
    const { demuxer } = await identifyContainer(file, basename(path));
    return { path, demuxer: demuxer ?? 'wav' };
  } finally {
    await file.close();
  }
}
