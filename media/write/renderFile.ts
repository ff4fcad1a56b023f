import { createHash } from 'node:crypto';
import { rm, stat } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { bytesPerSample, type SampleFormat } from '@pocket-twin/core/pcm/sampleFormat.ts';
import { outputChannelNames } from '@pocket-twin/core/repair/plan/outputNames.ts';
import { levelGainDb } from '@pocket-twin/core/repair/plan/levelGainDb.ts';
import { saysLoudness, umidOf, withLoudness, withNewUmid } from '@pocket-twin/core/riff/bextSound.ts';
import { madeInfoList } from '@pocket-twin/core/riff/infoList.ts';
import { dbFromAmplitude } from '@pocket-twin/core/signal/decibels.ts';
import { codingHistoryLine } from '@pocket-twin/core/riff/codingHistory.ts';
import { startsLater } from '@pocket-twin/core/riff/startsLater.ts';
import { carriedChunks } from '@pocket-twin/core/riff/carriedChunks.ts';
import type { WrittenTrack } from '@pocket-twin/core/riff/trackList.ts';
import { wavFrame, type KeptChunk } from '@pocket-twin/core/riff/wavFrame.ts';
import type { ClipFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import type { WrittenFile } from '@pocket-twin/core/schema/receipt.ts';
import type { OutputLayout, RepairOutput } from '@pocket-twin/core/schema/repair.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import type { FileStamp } from '@pocket-twin/core/contract/jobs.ts';
import { readKeptChunks } from '../read/keptChunks.ts';
import { diskTrouble } from '../disk/diskTrouble.ts';
import type { ClipSums } from '@pocket-twin/core/measure/stream/clipSums.ts';
import type { Sketch } from '@pocket-twin/core/schema/sketch.ts';
import { inspectFile, inspectMoved, wavFormat, wavLocation } from '../read/inspectFile.ts';
import { movedSketch, readSketch } from '../read/sketch.ts';
import { measureRepair } from './measureRepair.ts';
import { PcmFile } from '../read/pcmFile.ts';
import { movedInputs, renderRuns, writtenExactOutside, type RenderPlan } from './renderRuns.ts';
import { ReadBack } from './readBack.ts';
import { WholeFile } from '../disk/wholeFile.ts';

export interface RenderJob {
  source: PcmLocation;
  /** What the source was when it was measured, where it is a file of other people's that may be replaced meanwhile. */
  measured: FileStamp | null;
  /** The WAV whose chunks come along; null for other sources. */
  chunksFrom: string | null;
  /** What the source says of itself. */
  facts: ClipFacts;
  /** One an input channel; they follow the routes. */
  channelNames: (string | null)[];
  repair: Repair;
  /** How samples are stored in the output; the source's own words where nothing else is asked. */
  words: SampleFormat;
  /** What stands in the coding history of the written files; nothing where it is left out. */
  done?: string;
  /** It is a stretch of the recording: chunks that point into the sound stay out, and its start is that of `facts`. */
  isCut?: boolean;
  /** One path for each of the repair's outputs. */
  targets: string[];
  overwrite: boolean;
  /** What is written goes into other files at once and is deleted then. */
  isPassing?: boolean;
  /** What measuring the source has added up, and its ribbon in little; what only moves its channels is not measured anew then. */
  sums?: ClipSums | null;
  sketch?: Sketch | null;
  /** A folder for what sketches of the written files are made from; none are made without it. */
  sketchFolder?: string;
  /** What a source that is not a WAV says of itself in words, by lower-case names. */
  infoTags?: Record<string, string>;
  onProgress?: (share: number) => void;
  signal?: AbortSignal;
}

export interface Rendered {
  paths: string[];
  levelGainDb: number;
}

/** Which loudspeakers a WAV's channels are for (KSAUDIO_SPEAKER of WAVEFORMATEXTENSIBLE): L R C LFE Ls Rs are its lowest six. */
const SPEAKERS: Record<OutputLayout, number> = { discrete: 0, '5.1': 0x3f };

/** Writes a repair's files. Each is whole under its final name, or not there. */
export async function renderFile(job: RenderJob): Promise<Rendered> {
  const source = await PcmFile.open(job.source);
  const files: WholeFile[] = [];
  const ensureSame = (): Promise<void> => (job.measured ? source.ensureSame(job.measured) : Promise.resolve());
  try {
    await ensureSame();
    const plan = await planFor(job, source);
    const kept = job.chunksFrom ? await readKeptChunks(job.chunksFrom) : [];
    const chunks = job.isCut ? startsLater(kept, job.facts.startSamples ?? 0) : kept;
    const frames = frameEach(job, chunks, await loudnessEach(job, source, plan, chunks));
    for (const target of job.targets) files.push(await WholeFile.create(target, !job.isPassing));
    await writeRuns(
      job,
      source,
      plan,
      files,
      frames.map(({ head }) => head.length),
    );
    await Promise.all(
      files.map(async (file, i) => {
        await file.write(frames[i].head, 0);
        await file.write(frames[i].tail, frames[i].head.length + job.source.frames * outputFrameBytes(job, i));
      }),
    );
    await ensureSame();
    const paths: string[] = [];
    for (const file of files) paths.push(await file.finish(job.overwrite));
    return { paths, levelGainDb: plan.levelGainDb };
  } catch (error) {
    await Promise.all(files.map((file) => file.discard()));
    throw diskTrouble(error, basename(job.targets[0])) ?? error;
  } finally {
    await source.close();
  }
}

/** Reads the written files back: compares every word with the plan's, and measures what is there. */
export async function proveRendered(job: RenderJob, rendered: Rendered): Promise<WrittenFile[]> {
  const source = await PcmFile.open(job.source);
  const outputs = await Promise.all(rendered.paths.map(async (path) => PcmFile.open(await wavLocation(path))));
  try {
    const plan: RenderPlan = { repair: job.repair, words: job.words, levelGainDb: rendered.levelGainDb };
    const differing = rendered.paths.map(() => 0);
    const held = rendered.paths.map(() => 0);
    const written = outputs.map((output) => new ReadBack(output));
    for await (const run of renderRuns(source, plan)) {
      for (let i = 0; i < outputs.length; i++) {
        held[i] += run.held[i];
        const back = await written[i].next(run.startFrame, run.frames);
        if (Buffer.compare(back, run.outputs[i]) !== 0)
          differing[i] += differingFrames(back, run.outputs[i], outputs[i].frameBytes);
      }
    }
    for (const one of written) await one.finish();
    // Else the proof would speak of another recording.
    if (job.measured) await source.ensureSame(job.measured);
    return await Promise.all(
      rendered.paths.map(async (path, i) => {
        const outside = writtenExactOutside(plan, i, job.source.words, job.source.frames);
        // What was measured holds for words that are proven to be the same.
        const moved = differing[i] === 0 ? movedInputs(plan, i, job.source.words) : null;
        const { after, sketch } = await lookAtWritten(job, path, i, moved);
        return {
          name: basename(path),
          bytes: (await stat(path)).size,
          frames: after.format.frames,
          exact: outside?.length === 0,
          exactOutside: outside,
          heldSamples: held[i],
          proof: { comparedFrames: job.source.frames, differingFrames: differing[i] },
          after,
          sketch,
        };
      }),
    );
  } finally {
    await Promise.all([source, ...outputs].map((file) => file.close()));
  }
}

/** What is on a written file: from what was measured of the source where its channels were only moved, else measured. */
async function lookAtWritten(
  { source, sums, sketch, sketchFolder }: RenderJob,
  path: string,
  index: number,
  moved: number[] | null,
): Promise<{ after: Inspection; sketch: Sketch | null }> {
  const after = moved && sums ? await inspectMoved(source, sums, moved, await wavFormat(path)) : null;
  if (after && moved) return { after, sketch: movedSketch(sketch, moved) };
  if (sketchFolder === undefined) return { after: (await inspectFile(path)).inspection, sketch: null };
  const outlineFolder = join(sketchFolder, `outline-${index}`);
  const { inspection } = await inspectFile(path, { outlineFolder });
  const { frames, channels } = inspection.format;
  const drawn = await readSketch(outlineFolder, frames, channels);
  await rm(outlineFolder, { recursive: true, force: true });
  return { after: inspection, sketch: drawn };
}

async function planFor(job: RenderJob, source: PcmFile): Promise<RenderPlan> {
  const { level } = job.repair;
  const gainDb = level ? levelGainDb(await measureRepair(source, job.repair), level) : 0;
  return { repair: job.repair, words: job.words, levelGainDb: gainDb };
}

interface SoundLevels {
  loudnessLufs: number;
  truePeakDbtp: number;
}

/** How loud each output is, where the source's chunks say how loud that was; null where nobody asks. */
async function loudnessEach(
  { repair }: RenderJob,
  source: PcmFile,
  { levelGainDb: gainDb }: RenderPlan,
  chunks: KeptChunk[],
): Promise<SoundLevels[] | null> {
  if (!chunks.some(({ id, body }) => id === 'bext' && saysLoudness(body))) return null;
  return (await measureRepair(source, repair)).map(({ pairs, channels }) => ({
    loudnessLufs: (pairs[0] ?? channels[0]).loudnessLufs + gainDb,
    truePeakDbtp: dbFromAmplitude(Math.max(...channels.map(({ truePeak }) => truePeak))) + gainDb,
  }));
}

/** What speaks of the very sound that it is stored with, for other sound. */
function ofNewSound(chunks: KeptChunk[], done: string, levels: SoundLevels | null): KeptChunk[] {
  return chunks.map(({ id, body }) => {
    if (id !== 'bext') return { id, body };
    const measured = levels ? withLoudness(body, levels) : body;
    const old = umidOf(measured);
    // Of the same sound each time.
    const number = createHash('sha256').update(`${old} ${done}`).digest();
    return { id, body: old === null ? measured : withNewUmid(measured, number) };
  });
}

function frameEach(
  job: RenderJob,
  chunks: KeptChunk[],
  levels: SoundLevels[] | null,
): { head: Uint8Array; tail: Uint8Array }[] {
  const { infoTags = {} } = job;
  const info = madeInfoList(infoTags);
  return job.repair.outputs.map((output, i) =>
    wavFrame({
      format: job.words,
      channels: output.routes.length,
      sampleRate: job.source.sampleRate,
      frames: job.source.frames,
      speakerMask: SPEAKERS[output.layout],
      chunks: [
        ...carriedChunks(
          ofNewSound(chunks, `${i} ${job.done ?? JSON.stringify(job.repair)}`, levels?.[i] ?? null),
          job.facts,
          writtenTracks(output, job.channelNames),
          job.words.kind === 'float' && !chunks.some(({ id }) => id === 'bext') ? null : historyOf(job, output, chunks),
        ),
        ...(info ? [{ id: 'LIST', body: info }] : []),
      ],
    }),
  );
}

function historyOf(
  { done, source, words }: RenderJob,
  { routes }: RepairOutput,
  chunks: readonly KeptChunk[],
): string | null {
  if (done === undefined) return null;
  const bext = chunks.find(({ id }) => id === 'bext')?.body;
  const umid = bext ? umidOf(bext) : null;
  return codingHistoryLine(
    { sampleRate: source.sampleRate, bitDepth: words.bits, channels: routes.length },
    umid === null ? done : `${done}; was UMID ${umid}`,
  );
}

/** What is on the channels of a written file. */
export function writtenTracks(output: RepairOutput, channelNames: (string | null)[]): WrittenTrack[] {
  const names = outputChannelNames(output, channelNames);
  return output.routes.map((route, i) => ({ source: route.length === 1 ? route[0].from : null, name: names[i] }));
}

/** Writes one run while the next is read and made. */
async function writeRuns(
  job: RenderJob,
  source: PcmFile,
  plan: RenderPlan,
  files: WholeFile[],
  heads: number[],
): Promise<void> {
  let writing: Promise<unknown> = Promise.resolve();
  for await (const run of renderRuns(source, plan)) {
    await writing;
    job.signal?.throwIfAborted();
    writing = Promise.all(
      files.map((file, i) => file.write(run.outputs[i], heads[i] + run.startFrame * outputFrameBytes(job, i))),
    );
    // Awaited a run later; until then a failure must not count as unhandled.
    writing.catch(() => undefined);
    job.onProgress?.((run.startFrame + run.frames) / job.source.frames);
  }
  await writing;
}

/** Bytes of one output frame. */
function outputFrameBytes(job: RenderJob, output: number): number {
  return job.repair.outputs[output].routes.length * bytesPerSample(job.words);
}

function differingFrames(a: Uint8Array, b: Uint8Array, frameBytes: number): number {
  let count = 0;
  for (let at = 0; at < b.length; at += frameBytes) {
    if (Buffer.compare(a.subarray(at, at + frameBytes), b.subarray(at, at + frameBytes)) !== 0) count++;
  }
  return count;
}
