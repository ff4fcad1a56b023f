import { rm } from 'node:fs/promises';
import { basename, join } from 'node:path';
import type { Progress } from '@pocket-twin/core/contract/events.ts';
import type { WhatWasAsked } from '@pocket-twin/core/handoff/conformReasons.ts';
import { conformLines } from '@pocket-twin/core/handoff/conform.ts';
import { outputWords } from '@pocket-twin/core/pcm/packing.ts';
import { codecName, type SampleFormat } from '@pocket-twin/core/pcm/sampleFormat.ts';
import { inStreams } from '@pocket-twin/core/repair/plan/inStreams.ts';
import { outputChannelNames } from '@pocket-twin/core/repair/plan/outputNames.ts';
import { whatWasDone } from '@pocket-twin/core/repair/plan/planSentence.ts';
import { codingHistoryLine, longerHistory } from '@pocket-twin/core/riff/codingHistory.ts';
import { repairWithin } from '@pocket-twin/core/repair/plan/within.ts';
import { timecodeFromSeconds } from '@pocket-twin/core/time/timecode.ts';
import type { ClipFormat } from '@pocket-twin/core/schema/inspection.ts';
import type { Receipt } from '@pocket-twin/core/schema/receipt.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import type { Repair, RepairOutput } from '@pocket-twin/core/schema/repair.ts';
import { inspectFile } from '../read/inspectFile.ts';
import { inputOf } from '../read/inputOf.ts';
import { inThread } from '../threads/inThread.ts';
import { checksumsOf } from './checksums.ts';
import { clipWithin } from './clipWithin.ts';
import { muxSound, type FilmCut, type MuxedSound, type MuxOrder } from './muxSound.ts';
import { filmStreams } from './filmStreams.ts';
import { codingFor, takesSound, wordsForCoding, type SoundCoding } from './soundCoding.ts';
import { proveFilm, type ProvenSound } from './proveFilm.ts';
import { movedInputs } from '../write/renderRuns.ts';
import { movedSketch } from '../read/sketch.ts';
import { moveInFilm } from './moveInFilm.ts';
import { receiptOf } from './receiptOf.ts';
import { replaceSound, type ReplacedSound } from './replaceSound.ts';
import {
  type ClipCut,
  type HandoffClip,
  type HandoffOrder,
  type HandedOff,
  pathsOf,
  ownFolder,
  write,
} from './handoffOrder.ts';
import { travelling } from './travelling.ts';
import { soundFactsOf, soundFacts, headOf } from './fileFacts.ts';

type OnProgress = (progress: Progress) => void;

/** Whose sound lies in the file as plain words where its tables say. */
const IN_PLACE = new Set(['mov', 'mp4']);

/** Several outputs of a clip with picture become sound streams of one file: the edit has one clip still. */
export async function handOffFilm(
  order: HandoffOrder,
  wantedRepair: Repair,
  onProgress: OnProgress,
): Promise<HandedOff> {
  const { folder, scratch, bits, signal, span } = order;
  const clip = span ? clipWithin(order.clip, span) : order.clip;
  const inOrder = inStreams(wantedRepair, clip.facts.streams);
  const repair = span ? repairWithin(inOrder, span) : inOrder;
  const { container } = clip.inspection.format;
  if (!takesSound(container))
    throw new Refusal(
      'bad-request',
      `The sound of a ${container} file can’t be replaced in place. Choose WAV for it: then its sound is written alone.`,
    );
  const soundFolder = await ownFolder(scratch);
  try {
    const wanted = outputWords(bits, clip.pcm.words, null);
    const codings = codingsFor(order, repair, wanted);
    const words = codings.map(({ encoder }) => wordsForCoding(wanted, encoder)).reduce(narrower);
    const tags = { coding_history: historyOf(order, repair, words, codings[0], whatWasDone(repair)) };
    const claim = oncePathOf({ ...order, repair });
    const moved = span === null ? await movedIn({ ...order, repair }, words, tags, claim, onProgress) : null;
    if (moved) return moved;
    const wavs = repair.outputs.map((output, i) => ({
      path: join(soundFolder, `${i}.wav`),
      channels: output.routes.length,
      ...streamWords(output, i, repair, clip),
      coding: codings[i],
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
        isPassing: true,
        isCut: span !== null,
        sketchFolder: soundFolder,
      },
      onProgress,
    );
    ensureGoesOn(signal);
    const path = await claim();
    const target = join(folder, path);
    const wavPaths = wavs.map((wav) => wav.path);
    const replaced =
      span === null && IN_PLACE.has(container) && (await replacedIn(order, wavPaths, tags, target, onProgress));
    return replaced
      ? inPlace(order, written, path, replaced)
      : await anew(order, written, path, { wavs, words, tags, scratch: soundFolder });
  } finally {
    await rm(soundFolder, { recursive: true, force: true });
  }
}

/** A name is asked for once, by whoever needs it first. */
function oncePathOf(order: HandoffOrder): () => Promise<string> {
  let path: Promise<string> | null = null;
  return () => (path ??= order.claim(pathsOf(order)).then(([first]) => first));
}

/** Where channels only change places within plain words: without a file in between. */
async function movedIn(
  order: HandoffOrder & { repair: Repair },
  words: SampleFormat,
  tags: Record<string, string>,
  claim: () => Promise<string>,
  onProgress: OnProgress,
): Promise<HandedOff | null> {
  const { clip, folder, repair, inThreads, signal } = order;
  const { pcm, facts, sums, inspection, sketch } = clip;
  const plan = { repair, words, levelGainDb: 0 };
  const inputs = repair.level ? [] : repair.outputs.map((_, i) => movedInputs(plan, i, pcm.words));
  if (inputs.length === 0 || sums === null || !IN_PLACE.has(inspection.format.container)) return null;
  if (!inputs.every((stream) => stream !== null)) return null;
  const path = await claim();
  const { streams } = facts;
  const format = { ...inspection.format, warning: null };
  const job = { original: clip.path, pcm, streams, inputs, sums, format, tags, target: join(folder, path) };
  const done = await (inThreads ? inThread('moveInFilm', job, { onProgress, signal }) : moveInFilm(job, onProgress));
  if (done === null) return null;
  const { replaced, after } = done;
  const files = after.map((inspected, i) => ({
    ...{ name: basename(path), bytes: replaced.checksums.bytes, frames: pcm.frames, after: inspected },
    ...{ exact: true, exactOutside: [], heldSamples: 0, sketch: movedSketch(sketch, inputs[i]) },
    proof: { comparedFrames: pcm.frames, differingFrames: 0 },
  }));
  return inPlace(order, receiptOf(clip, repair, files), path, replaced);
}

function replacedIn(
  { clip: { path: original, pcm, facts }, inThreads, signal }: HandoffOrder,
  wavPaths: string[],
  tags: Record<string, string>,
  target: string,
  onProgress: OnProgress,
): Promise<ReplacedSound | null> {
  const job = { original, pcm, streams: facts.streams, words: wavPaths, tags, target };
  return inThreads ? inThread('replaceSound', job, { onProgress, signal }) : replaceSound(job, onProgress);
}

/** Everything but the words of its sound is what it was, and was compared. */
async function inPlace(
  { clip }: HandoffOrder,
  written: Receipt,
  path: string,
  { proof, pictureBefore, checksums }: ReplacedSound,
): Promise<HandedOff> {
  const facts = { ...soundFactsOf(clip), pictureFrames: clip.facts.picture?.frames ?? null };
  const { container } = clip.inspection.format;
  const travels = await travelling(clip.path, container);
  const conform = conformLines(
    { ...facts, pictureHash: pictureBefore },
    { ...facts, pictureHash: proof.pictureHash },
    // Every byte outside of the sound, and of the tag that tells of it, was compared with the original's.
    { before: travels, after: travels },
    {
      ...{ isRepaired: true, changesChannels: false, isCut: false, changesForm: false, isCoded: false },
      sampleRate: clip.inspection.format.sampleRate,
    },
  );
  return {
    receipt: provenAs(clip, written, path, checksums.bytes, proof.sounds),
    files: [{ path, checksums, conform }],
  };
}

/** Put together anew from the original's picture and the new sound. */
async function anew(
  order: HandoffOrder,
  written: Receipt,
  path: string,
  made: Pick<MuxOrder, 'wavs' | 'tags' | 'scratch'> & { words: SampleFormat },
): Promise<HandedOff> {
  const { clip, folder, signal, span } = order;
  const { container } = clip.inspection.format;
  const target = join(folder, path);
  const original = await inputOf(clip.path);
  // The head of a recording that was measured before this was looked at is read once more.
  const picture = clip.facts.picture ?? (await headOf(clip.path)).facts.picture;
  const pictureBefore = await muxSound({
    ...{ ...made, original, container, target, overwrite: true },
    streams: await filmStreams(original),
    timecode: startTimecode(clip),
    soundStartSeconds: soundStartIn(picture?.soundStartSeconds ?? 0, clip, span),
    cut: span && cutFrom(clip, span),
  });
  ensureGoesOn(signal);
  const input = await inputOf(target);
  const holdsWords = made.wavs.every(({ coding }) => coding.isLossless);
  const [proof, checksums] = await Promise.all([
    proveFilm(input, holdsWords ? made.wavs.map((wav) => wav.path) : [], codecName(made.words)),
    checksumsOf(target),
  ]);
  const receipt = holdsWords
    ? provenAs(clip, written, path, checksums.bytes, proof.sounds)
    : await measuredAs(order, written, path, checksums.bytes, made.scratch);
  const now = await headOf(target);
  const before = { ...soundFactsOf(clip), pictureHash: pictureBefore, pictureFrames: picture?.frames ?? null };
  const after = {
    ...soundFacts({ ...now.format, ...lengthOf(receipt) }, now.facts),
    ...{ pictureHash: proof.pictureHash, pictureFrames: now.facts.picture?.frames ?? null },
  };
  const asked: WhatWasAsked = {
    isRepaired: true,
    changesChannels: before.channels !== after.channels || before.layout !== after.layout,
    ...{ isCut: span !== null, changesForm: order.bits !== 'same' && holdsWords },
    ...{ isCoded: !holdsWords, sampleRate: clip.inspection.format.sampleRate },
  };
  const travels = { before: await travelling(clip.path, container), after: await travelling(target, container) };
  return { receipt, files: [{ path, checksums, conform: conformLines(before, after, travels, asked) }] };
}

/** Words that were read back out of the container and compared: what was measured of them holds. */
function provenAs(
  { inspection: { format } }: HandoffClip,
  written: Receipt,
  path: string,
  bytes: number,
  sounds: readonly ProvenSound[],
): Receipt {
  const files = written.files.map((file, i) => {
    const { frames, differingFrames } = sounds[i];
    const proof = { ...file.proof, differingFrames: Math.max(file.proof.differingFrames, differingFrames) };
    const after = {
      ...file.after,
      format: { ...file.after.format, frames, container: format.container, hasVideo: true },
    };
    return { ...file, name: basename(path), bytes, frames, proof, after };
  });
  return { ...written, files };
}

/** How much later than the picture the sound begins in what is cut out. */
function soundStartIn(soundStartSeconds: number, { inspection }: HandoffClip, span: ClipCut | null): number {
  if (!span?.film?.startSeconds) return soundStartSeconds;
  return Math.max(0, span.startFrame / inspection.format.sampleRate + soundStartSeconds - span.film.startSeconds);
}

/** Where the picture is cut, and the timecode of its first frame then; a film without a timecode counts from nought. */
function cutFrom({ inspection, facts: { startSamples, frameRate } }: HandoffClip, { film }: ClipCut): FilmCut {
  const startSeconds = film?.startSeconds ?? 0;
  const { sampleRate } = inspection.format;
  // Of the middle of the frame, whose number is meant.
  const middle =
    (startSamples ?? 0) / sampleRate + startSeconds + (frameRate ? frameRate.denominator / frameRate.numerator / 2 : 0);
  return {
    startSeconds: film?.startSeconds ?? null,
    packets: film?.packets ?? null,
    durationSeconds: film?.endSeconds ? film.endSeconds - startSeconds : null,
    timecode: frameRate && timecodeFromSeconds(middle, frameRate),
  };
}

/** What a coder made of the words is measured anew, and exact no longer. */
async function measuredAs(
  { folder, inThreads, signal }: HandoffOrder,
  written: Receipt,
  path: string,
  bytes: number,
  scratch: string,
): Promise<Receipt> {
  const look = { path: join(folder, path), workingCopy: join(scratch, 'after.pcm') };
  const { inspection: after } = await (inThreads ? inThread('look', look, { signal }) : inspectFile(look.path, look));
  const { frames } = after.format;
  const files = written.files.map((file) => ({
    ...file,
    ...{ name: basename(path), bytes, frames, after, exact: false, exactOutside: null },
  }));
  return { ...written, files };
}

function lengthOf({ files }: Receipt): Pick<ClipFormat, 'frames' | 'durationSeconds'> {
  const [{ frames, after }] = files;
  return { frames, durationSeconds: frames / after.format.sampleRate };
}

/** What a sound stream says of itself: what that in its place said, unless other names are on its channels now. */
function streamWords(
  output: RepairOutput,
  index: number,
  { outputs }: Repair,
  { facts: { streams, trackNames } }: HandoffClip,
): Pick<MuxedSound, 'name' | 'language'> {
  const kept = streams.length === outputs.length ? streams[index] : null;
  const language = (kept ?? streams[0])?.language ?? null;
  const names = [...new Set(outputChannelNames(output, trackNames))].filter((name) => name !== null);
  // Channels of a named stream are called by it, with a number.
  const isStill = kept?.name && names.every((name) => name.replace(/ \d+$/, '') === kept.name);
  const name = isStill ? kept.name : names.join(', ');
  return { name: name === '' || name === language ? null : name, language };
}

/** How each sound stream is written. */
function codingsFor(
  { clip: { facts, pcm, inspection }, codedKbits }: HandoffOrder,
  repair: Repair,
  words: SampleFormat,
) {
  const { container } = inspection.format;
  return repair.outputs.map(({ routes: { length: channels } }, i): SoundCoding => {
    const { codec } = facts.streams[Math.min(i, facts.streams.length - 1)] ?? inspection.format;
    return codingFor(container, codec, words, { sampleRate: pcm.sampleRate, channels, codedKbits });
  });
}

function narrower(a: SampleFormat, b: SampleFormat): SampleFormat {
  return a.bits <= b.bits ? a : b;
}

/** One line more, whatever the film has of streams. */
function historyOf(
  { clip: { facts, pcm } }: HandoffOrder,
  { outputs }: Repair,
  words: SampleFormat,
  { name, kbits }: SoundCoding,
  done: string,
): string {
  const line = codingHistoryLine(
    {
      ...{ sampleRate: pcm.sampleRate, bitDepth: words.bits, channels: outputs[0].routes.length },
      coded: kbits === null ? undefined : { as: name, kbits },
    },
    done,
  );
  return longerHistory(facts.codingHistory ?? '', line);
}

/** Of a film's first frame; null where nobody knows how many a second has. */
function startTimecode({ inspection, facts: { startSamples, frameRate } }: HandoffClip): string | null {
  if (startSamples === null || !frameRate) return null;
  return timecodeFromSeconds(startSamples / inspection.format.sampleRate, frameRate);
}

function ensureGoesOn(signal: AbortSignal | undefined): void {
  if (signal?.aborted) throw new Refusal('cancelled', 'Cancelled.');
}
