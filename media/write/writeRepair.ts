import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { basename, join } from 'node:path';
import type { Progress } from '@pocket-twin/core/contract/events.ts';
import type { FileStamp } from '@pocket-twin/core/contract/jobs.ts';
import type { Packing } from '@pocket-twin/core/pcm/packing.ts';
import type { ClipSums } from '@pocket-twin/core/measure/stream/clipSums.ts';
import type { SampleFormat } from '@pocket-twin/core/pcm/sampleFormat.ts';
import { bextTexts } from '@pocket-twin/core/riff/bext.ts';
import { describedTracks } from '@pocket-twin/core/riff/describedTracks.ts';
import type { WrittenTrack } from '@pocket-twin/core/riff/trackList.ts';
import type { ClipFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import type { Receipt } from '@pocket-twin/core/schema/receipt.ts';
import type { Sketch } from '@pocket-twin/core/schema/sketch.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { probeFile } from '../ffmpeg/probe.ts';
import { writeTags } from '../ffmpeg/writeTags.ts';
import { inputOf } from '../read/inputOf.ts';
import { readKeptChunks } from '../read/keptChunks.ts';
import { readSums } from '../read/keptSums.ts';
import { packWav } from './packWav.ts';
import { proveRendered, renderFile, writtenTracks, type RenderJob } from './renderFile.ts';

/** A clip as it was measured. */
interface MeasuredClip {
  /** The recording's file. */
  path: string;
  /** What it is called in the receipt. */
  name: string;
  inspection: Inspection;
  facts: ClipFacts;
  pcm: PcmLocation;
  sketch?: Sketch | null;
  /** What measuring it has added up, or the file where that is kept. */
  sums?: ClipSums | string | null;
  /** What the file was then, where it is other people's and may be replaced meanwhile. */
  stamp: FileStamp | null;
}

export interface WriteOrder {
  clip: MeasuredClip;
  repair: Repair;
  /** One an input channel; they follow the routes. */
  channelNames: (string | null)[];
  /** How samples are stored; the clip's own words where nothing else is asked. */
  words: SampleFormat;
  /** What stands in the coding history of the written files; nothing where it is left out. */
  done?: string;
  /** The clip is a stretch of its recording. */
  isCut?: boolean;
  /** One path for each of the repair's outputs. */
  targets: string[];
  /** Where targets are no WAV: what they are, and a folder on the same disk for the WAVs that they are packed from. */
  packing: { as: Packing; folder: string } | null;
  overwrite: boolean;
  /** The targets go into other files at once and are deleted then. */
  isPassing?: boolean;
  /** A folder for what ribbons in little are made from, of the source and of what is written; none are told without it. */
  sketchFolder?: string;
}

/**
 * The one way in which a repair is written: its files under their names, with the chunks that the recording carries, read back and compared.
 * @returns what was done, with proof. @throws Refusal where it can't be written
 */
export async function writeRepair(order: WriteOrder, onProgress: (progress: Progress) => void): Promise<Receipt> {
  const { clip, repair, targets, packing, words } = order;
  const job: RenderJob = {
    repair,
    source: clip.pcm,
    // Of a working copy nobody but us knows.
    measured: clip.pcm.path === clip.path ? clip.stamp : null,
    chunksFrom: isWave(clip) ? clip.path : null,
    facts: clip.facts,
    channelNames: order.channelNames,
    words,
    done: order.done,
    isCut: order.isCut,
    targets: packing === null ? targets : targets.map(() => join(packing.folder, `${randomUUID()}.wav`)),
    overwrite: packing !== null || order.overwrite,
    isPassing: packing !== null || order.isPassing,
    sums: typeof clip.sums === 'string' ? await readSums(clip.sums, clip.pcm) : clip.sums,
    sketch: clip.sketch,
    sketchFolder: order.sketchFolder,
    infoTags: packing === null && !order.isPassing && !isWave(clip) ? await tagsOf(clip.path) : undefined,
    onProgress: (share) => onProgress({ stage: 'writing', share }),
  };
  const rendered = await renderFile(job);
  onProgress({ stage: 'proving', share: 0 });
  const files = await proveRendered(job, rendered);
  if (packing !== null) {
    // A WAV's own come with its chunks.
    const tagsPath = job.chunksFrom === null ? `${rendered.paths[0]}.tags` : null;
    if (tagsPath !== null) await writeTags(await inputOf(clip.path), tagsPath);
    for (const [i, path] of rendered.paths.entries()) {
      const tags = await tagsFor(path, writtenTracks(repair.outputs[i], order.channelNames));
      const { container, codec } = clip.inspection.format;
      const isLittleEndian = container === 'aifc' && /^pcm_s\d+le$/.test(codec);
      const partsFrom = container.startsWith(packing.as.slice(0, 3)) && !order.isCut ? clip.path : null;
      const options = { as: packing.as, words, overwrite: order.overwrite, tagsPath, tags, isLittleEndian, partsFrom };
      files[i].name = basename(await packWav(path, targets[i], options));
      await rm(path);
    }
    if (tagsPath !== null) await rm(tagsPath);
  }
  return {
    version: 1,
    source: clip.name,
    repair,
    levelGainDb: rendered.levelGainDb,
    before: clip.inspection,
    sketch: clip.sketch ?? null,
    files,
    writtenAt: new Date().toISOString(),
  };
}

function isWave({ inspection }: MeasuredClip): boolean {
  return inspection.format.container === 'wav';
}

/** What a file that is not a WAV says of itself in words; nothing where that cannot be read. */
async function tagsOf(path: string): Promise<Record<string, string>> {
  try {
    return (await probeFile(await inputOf(path))).tags;
  } catch {
    return {};
  }
}

/** What a WAV's chunks say, as tags of a file that has no such chunks; called as FFmpeg calls them. */
async function tagsFor(wavPath: string, tracks: WrittenTrack[]): Promise<Record<string, string>> {
  const bext = (await readKeptChunks(wavPath)).find(({ id }) => id === 'bext')?.body;
  if (!bext) return {};
  const { description, timeReference, codingHistory } = bextTexts(bext);
  return {
    ...(timeReference > 0 && { time_reference: String(timeReference) }),
    ...(codingHistory !== '' && { coding_history: codingHistory }),
    // FFmpeg calls a comment what FLAC calls a description; of two texts it would make one.
    ...(tracks.some(({ name }) => name !== null) && { description: '', comment: describedTracks(description, tracks) }),
  };
}
