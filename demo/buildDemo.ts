import { mkdir, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { encodeWords } from '@pocket-twin/core/pcm/encodeWords.ts';
import { wavFrame } from '@pocket-twin/core/riff/wavFrame.ts';
import { triangularDither } from '@pocket-twin/core/signal/dither.ts';
import { packWav } from '@pocket-twin/media/write/packWav.ts';
import { encodeVideo } from '@pocket-twin/media/picture/encodeVideo.ts';
import { WholeFile } from '@pocket-twin/media/disk/wholeFile.ts';
import { demoClips, type DemoClip } from './clips.ts';
import { demoEdits } from './edit.ts';
import { SLATE, slateFrames } from './slate.ts';
import { TRUTH_FILE, type ClipTruth } from './truth.ts';

/** Builds the demo's clips, the edit of its film and `truth.json` into a folder. @returns what is true about each clip */
export async function buildDemo(folder: string): Promise<ClipTruth[]> {
  await mkdir(folder, { recursive: true });
  const clips = await demoClips();
  for (const clip of clips) await writeClip(folder, clip);
  for (const { name, text } of demoEdits(clips)) await writeFile(join(folder, name), text);
  const truth = clips.map(({ file, setup, verdict, side, made }) => ({ file, setup, verdict, side, made }));
  await writeFile(join(folder, TRUTH_FILE), `${JSON.stringify(truth, null, 2)}\n`);
  return truth;
}

async function writeClip(folder: string, clip: DemoClip): Promise<void> {
  const target = join(folder, clip.file);
  if (target.endsWith('.flac')) {
    const wavPath = `${target}.sound.wav`;
    await writeWav(wavPath, clip);
    await packWav(wavPath, target, { as: 'flac', words: { kind: 'integer', bits: 24 }, overwrite: true });
    return rm(wavPath);
  }
  if (clip.pictureStartSeconds === null) return writeWav(target, clip);
  const wavPath = `${target}.sound.wav`;
  await writeWav(wavPath, clip);
  const seconds = clip.channels[0].length / clip.sampleRate;
  await encodeVideo({
    picture: { ...SLATE, frames: slateFrames(seconds, clip.pictureStartSeconds) },
    wavPath,
    audioCodec: target.endsWith('.mov') ? 'pcm_s24le' : 'aac',
    target,
  });
  await rm(wavPath);
}

async function writeWav(target: string, clip: DemoClip): Promise<void> {
  const format = { kind: 'integer', bits: clip.bits } as const;
  const frames = clip.channels[0].length;
  const { head, tail } = wavFrame({
    format,
    channels: clip.channels.length,
    sampleRate: clip.sampleRate,
    frames,
    speakerMask: 0,
    chunks: clip.chunks,
  });
  const body = new Uint8Array(frames * clip.channels.length * (clip.bits / 8));
  encodeWords(clip.channels, format, body, frames, silentAware(clip));
  const file = await WholeFile.create(target);
  await file.write(head, 0);
  await file.write(body, head.length);
  await file.write(tail, head.length + body.length);
  await file.finish(true);
}

/** A clip with a digitally silent side gets no dither: a recorder writes zeros there. */
function silentAware(clip: DemoClip): () => number {
  return clip.channels.some((channel) => channel.every((x) => x === 0)) ? () => 0 : triangularDither(7);
}
