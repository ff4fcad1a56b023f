import { mkdir, rm } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import type { FileStamp, HandoffFileJob } from '@pocket-twin/core/contract/jobs.ts';
import { damagedFile } from '@pocket-twin/core/repair/plan/readBack.ts';
import { exactWords } from '@pocket-twin/core/repair/plan/exactWords.ts';
import { noFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { channelNamesOf } from '@pocket-twin/core/setups/channelNamesOf.ts';
import { identitiesOf, isOneOf } from '@pocket-twin/media/disk/identity.ts';
import { giveModes } from '@pocket-twin/media/disk/deliveredModes.ts';
import { moveWhole } from '@pocket-twin/media/disk/wholeFile.ts';
import { handOffClip } from '@pocket-twin/media/handoff/handOffClip.ts';
import type { HandedOff, HandoffClip } from '@pocket-twin/media/handoff/handoffOrder.ts';
import { recordingOf } from '@pocket-twin/core/handoff/recordingOf.ts';
import type { HandedOffRecording } from '@pocket-twin/core/schema/handedOffRecording.ts';
import { editPath } from '../edits/projectRecordings.ts';
import { cutsOf, recordingWith, together } from '@pocket-twin/media/handoff/pieces.ts';
import { inThread } from '@pocket-twin/media/threads/inThread.ts';
import { ClipRow } from '../clips/clip.ts';
import { ensureSourceHere } from '../clips/linkedSources.ts';
import { action, type ActionContext, type Step } from '../platform/action.ts';
import { announce } from '../platform/changes.ts';
import { inBackground } from '../platform/inBackground.ts';
import type { Folders } from '../platform/home/folders.ts';
import type { Logger } from '../platform/log.ts';
import type { Leave } from '../platform/queue/queue.ts';
import { SetupRow } from '../setups/setup.ts';
import { endIfOver } from './endHandoff.ts';
import { HandoffRow } from './handoff.ts';
import { HandoffFileRow, type HandoffResult } from './handoffFile.ts';
import { joinedClip } from './joinedClip.ts';
import { isThere, whyHeld } from './hold.ts';
import { asDone } from '@pocket-twin/core/handoff/onTracks.ts';
import { scratchOf } from './scratchOf.ts';

interface WorkContext extends ActionContext {
  folders: Folders;
  log: Logger;
}

// A person who cancels waits this long at most until work stops.
const LOOK_EVERY_MS = 500;

/**
 * Writes one clip's files of a handoff: made and proven in a folder of its own beside their places, and given their names only then. Whatever stops it
 * leaves nothing under a final name.
 */
export async function writeHandoffFile(
  context: WorkContext,
  { fileId, seen }: HandoffFileJob,
  leave: Leave,
): Promise<void> {
  const file = await HandoffFileRow.findByPk(fileId);
  if (!file || (file.state !== 'waiting' && file.state !== 'writing')) return;
  const handoff = await takenUp(context, file, leave);
  if (handoff === null) return;
  if (!(await isThere(handoff.folder!))) return hold(context, file, handoff, leave);
  const scratch = join(handoff.folder!, scratchOf(fileId));
  const stop = new AbortController();
  const watch = setInterval(
    () =>
      inBackground(
        context.log,
        'Looking whether a handoff was cancelled',
        HandoffRow.findByPk(handoff.id, { attributes: ['state'] }).then((now) => {
          if (!now || now.state === 'finishing') stop.abort();
        }),
      ),
    LOOK_EVERY_MS,
  );
  try {
    await rm(scratch, { recursive: true, force: true });
    await mkdir(scratch);
    const result = await made(context, file, handoff, { scratch, signal: stop.signal, seen: seen ?? null });
    const damaged = damagedFile(result.receipt);
    if (damaged)
      return await keep(context, file, {
        state: 'failed',
        error: `${damaged.name} read back differently from what was written: the disk may be failing. Write it again elsewhere.`,
      });
    if (stop.signal.aborted) return await keep(context, file, { state: 'cancelled' });
    await place(file, handoff, join(scratch, 'files'), result);
    const [written] = result.receipt.files;
    await keep(context, file, {
      ...{ state: 'done', error: null, result, conform: result.files[0].conform },
      paths: result.files.map(({ path }) => path),
      proof: exactWords(written, result.receipt.before.format.sampleRate),
    });
  } catch (error) {
    if (stop.signal.aborted) return await keep(context, file, { state: 'cancelled' });
    if (isOfTheDisk(error) || !(await isThere(handoff.folder!)))
      return await hold(context, file, handoff, leave, error);
    if (!(error instanceof Refusal) || error.code === 'interrupted') throw error;
    await keep(context, file, { state: 'failed', error: error.message });
  } finally {
    clearInterval(watch);
    await rm(scratch, { recursive: true, force: true }).catch(() => undefined);
  }
}

/** Makes its files in the scratch folder, each under the path that it will have in the handoff's. */
async function made(
  { sequelize, folders, log }: WorkContext,
  { id, clipId, partnerId = null, paths, stem, repair, stretches }: HandoffFileRow,
  { wanted: { format, bits, codedKbits, keepsTimes } }: HandoffRow,
  { scratch, signal, seen }: { scratch: string; signal: AbortSignal; seen: FileStamp | null },
): Promise<HandoffResult> {
  const clip = await readyClip(clipId);
  const done = asDone(repair);
  const partner = partnerId === null ? null : await readyClip(partnerId);
  const source = partner
    ? await joinedClip(clip, partner, basename(paths[0]), scratch)
    : await handoffClipOf(clip, folders, seen);
  // Beside the writing: what kept its size and its time may be another recording all the same.
  const sameContent = Promise.all([clip, ...(partner ? [partner] : [])].map(ensureSameContent));
  sameContent.catch(() => undefined);
  const folder = join(scratch, 'files');
  await mkdir(folder);
  const spans = await cutsOf(source, stretches, { repair: done, format, bits });
  const left = [...paths];
  const pieces: HandedOff[] = [];
  for (const [i, span] of spans.entries())
    pieces.push(
      await handOffClip(
        {
          ...{
            clip: source,
            repair: done,
            span,
            folder,
            stem,
            format,
            bits,
            codedKbits,
            keepsTimes,
            scratch,
            inThreads: true,
            signal,
          },
          // Their names were found when the handoff began.
          claim: (asked) => Promise.resolve(left.splice(0, asked.length)),
        },
        ({ stage, share }) =>
          inBackground(
            log,
            'Telling how far a handoff is',
            announce(sequelize, { kind: 'progress', id, stage, share: (i + share) / spans.length }),
          ),
      ),
    );
  await sameContent;
  const written = together(pieces);
  if (partner) return { ...written, ...asTwoSides(written, clip, partner) };
  const recording = recordingWith(pieces, spans, source, { repair: done, format }, editPath(clip));
  return { ...written, recording, also: [] };
}

/** @throws Refusal where a clip's file holds something else than what was measured */
async function ensureSameContent({ sourcePath, fileName, contentHash }: ClipRow): Promise<void> {
  if (contentHash === null || (await inThread('hash', { path: sourcePath })) === contentHash) return;
  throw new Refusal(
    'conflict',
    `${fileName} holds something else than what was measured, though its size and its date are the same. Measure it again in the lineup.`,
  );
}

/** The left and the right of one recording, each with the one file that both became. */
function asTwoSides(
  { files: [{ path }] }: HandedOff,
  left: ClipRow,
  right: ClipRow,
): Pick<HandoffResult, 'recording' | 'also'> {
  const [recording, other] = [left, right].map((clip, side): HandedOffRecording => {
    const facts = clip.facts ?? noFacts(clip.pcm!.channels);
    const whole = recordingOf({ source: clip.sourcePath, path: editPath(clip), inspection: clip.inspection!, facts });
    const streams = [[side === 0 ? [1] : [], side === 1 ? [1] : []]];
    const file = { path, label: '', hasPicture: false, streams };
    return { ...whole, pieces: [{ startSeconds: 0, endSeconds: whole.durationSeconds, files: [file] }] };
  });
  return { recording, also: [other] };
}

/** @throws Refusal where it is not there as it was measured */
async function readyClip(clipId: string | null): Promise<ClipRow> {
  const clip = clipId === null ? null : await ClipRow.findByPk(clipId);
  if (!clip?.pcm || !clip.inspection)
    throw new Refusal(
      'conflict',
      'The clip was taken out of the project or is being measured again. Put it back and try again.',
    );
  await ensureSourceHere(clip);
  return clip;
}

async function handoffClipOf(clip: ClipRow, folders: Folders, seen: FileStamp | null): Promise<HandoffClip> {
  const channels = clip.pcm!.channels;
  const setup = clip.setupId === null ? null : await SetupRow.findByPk(clip.setupId);
  const facts = clip.facts ?? noFacts(channels);
  const { linked, bytes, sourceModifiedMs } = clip;
  return {
    path: clip.sourcePath,
    inspection: clip.inspection!,
    facts: { ...facts, trackNames: channelNamesOf(setup, facts, channels) },
    pcm: clip.pcm!,
    sketch: clip.sketch,
    sums: folders.sums(clip.id),
    stamp:
      linked && sourceModifiedMs !== null
        ? { bytes, modifiedMs: sourceModifiedMs, identity: seen?.identity ?? null }
        : null,
  };
}

/** Gives finished files their names. @throws Refusal where an original has come to lie under one */
async function place(
  { clipId }: HandoffFileRow,
  handoff: HandoffRow,
  from: string,
  { files }: HandoffResult,
): Promise<void> {
  const clip = clipId === null ? null : await ClipRow.findByPk(clipId, { attributes: ['sourcePath'] });
  const originals = await identitiesOf(clip ? [clip.sourcePath] : []);
  for (const { path } of files) {
    const target = join(handoff.folder!, path);
    if (await isOneOf(originals, target))
      throw new Refusal('not-allowed', `${target} is an original, and originals are never replaced.`);
    await mkdir(dirname(target), { recursive: true });
    await moveWhole(join(from, path), target, true);
  }
  if (handoff.wanted.place.kind !== 'download')
    await giveModes(
      handoff.folder!,
      files.map(({ path }) => path),
    );
}

/** The handoff of a file that is to be written now; null where it is not: it was cancelled, or waits for whoever lets the handoff go on. */
function takenUp(context: ActionContext, file: HandoffFileRow, leave: Leave): Promise<HandoffRow | null> {
  return action(context, async (step) => {
    const handoff = await lockedHandoff(file, step);
    if (!handoff) return null;
    const isRunning = handoff.state === 'running';
    const isCancelled = handoff.state === 'finishing';
    await change(file, { state: isRunning ? 'writing' : isCancelled ? 'cancelled' : 'waiting' }, handoff, step);
    if (isRunning) return handoff;
    await leave(step.transaction);
    return null;
  });
}

/** The disk is full or gone: every file of the handoff waits until that has changed. */
async function hold(
  context: ActionContext,
  file: HandoffFileRow,
  handoff: HandoffRow,
  leave: Leave,
  error: unknown = null,
): Promise<void> {
  const said =
    (await whyHeld(handoff)) ??
    (error instanceof Refusal
      ? error.message
      : `The disk of ${handoff.folder} does not do what is asked of it. Check it, and go on.`);
  await action(context, async (step) => {
    const now = await lockedHandoff(file, step);
    await change(file, { state: 'waiting' }, now, step);
    if (now?.state === 'running') await now.update({ state: 'held', said }, { transaction: step.transaction });
    await step.tell({ kind: 'handoff', id: handoff.id });
    await leave(step.transaction);
  });
}

const OF_THE_DISK = ['ENOSPC', 'EDQUOT', 'EIO', 'ESTALE', 'ENXIO', 'EHOSTDOWN', 'EROFS', 'ENODEV', 'ENOTCONN'];

function isOfTheDisk(error: unknown): boolean {
  if (error instanceof Refusal) return error.code === 'no-room';
  return OF_THE_DISK.includes((error as NodeJS.ErrnoException).code ?? '');
}

/** Its row says how it stands; when it was the last, the handoff ends. */
function keep(context: ActionContext, file: HandoffFileRow, changed: Partial<HandoffFileRow>): Promise<void> {
  return action(context, async (step) => change(file, changed, await lockedHandoff(file, step), step));
}

async function change(
  file: HandoffFileRow,
  changed: Partial<HandoffFileRow>,
  handoff: HandoffRow | null,
  step: Step,
): Promise<void> {
  await file.update(changed, { transaction: step.transaction });
  await step.tell({ kind: 'handoff-file', id: file.id, handoffId: file.handoffId });
  if (changed.state === 'writing' || changed.state === 'waiting') return;
  if (handoff) await endIfOver(handoff, step);
  if (file.clipId !== null) await step.tell({ kind: 'clip', id: file.clipId });
}

function lockedHandoff({ handoffId }: HandoffFileRow, { transaction }: Step): Promise<HandoffRow | null> {
  return HandoffRow.findByPk(handoffId, { transaction, lock: transaction.LOCK.UPDATE });
}

export async function giveUpHandoffFile(
  context: ActionContext,
  { fileId }: HandoffFileJob,
  error: unknown,
): Promise<void> {
  const file = await HandoffFileRow.findByPk(fileId);
  if (!file) return;
  await keep(context, file, {
    state: 'failed',
    error: error instanceof Refusal ? error.message : 'It could not be written; the log says why. Try it again.',
  });
}
