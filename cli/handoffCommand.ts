import { mkdir, rm, rmdir, stat } from 'node:fs/promises';
import { basename, dirname, join, resolve } from 'node:path';
import type { WrittenEdit } from '@pocket-twin/core/edit/eventOutcome.ts';
import { nameFrom } from '@pocket-twin/core/handoff/names.ts';
import { onTracks } from '@pocket-twin/core/handoff/onTracks.ts';
import { recordingOf } from '@pocket-twin/core/handoff/recordingOf.ts';
import { damagedFile } from '@pocket-twin/core/repair/plan/readBack.ts';
import { findOn } from '@pocket-twin/core/repair/propose/findOn.ts';
import { USUAL_CODED_KBITS } from '@pocket-twin/core/schema/handoff.ts';
import type { GivenEdit } from '@pocket-twin/core/schema/handoffRecord.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { stampOf } from '@pocket-twin/media/disk/fileStamp.ts';
import { makeFolder } from '@pocket-twin/media/disk/makeFolder.ts';
import { makeScratch } from '@pocket-twin/media/disk/scratch.ts';
import { writeWhole } from '@pocket-twin/media/disk/wholeFile.ts';
import { completeFolder, RECEIPT_PAGE } from '@pocket-twin/media/handoff/completeFolder.ts';
import {
  isStillThere,
  receiptPath,
  RECEIPTS,
  receiptText,
  recordOf,
  type FolderRecord,
} from '@pocket-twin/media/handoff/folderRecords.ts';
import { handOffClip } from '@pocket-twin/media/handoff/handOffClip.ts';
import { HandoffLock } from '@pocket-twin/media/handoff/handoffLock.ts';
import type { HandedOff, HandoffClip, HandoffOrder } from '@pocket-twin/media/handoff/handoffOrder.ts';
import { cutsOf, recordingWith, together } from '@pocket-twin/media/handoff/pieces.ts';
import { TargetFolder } from '@pocket-twin/media/handoff/targetFolder.ts';
import { withClipSound } from '@pocket-twin/media/read/clipSound.ts';
import { inspectFile } from '@pocket-twin/media/read/inspectFile.ts';
import { readSketch } from '@pocket-twin/media/read/sketch.ts';
import { inThread } from '@pocket-twin/media/threads/inThread.ts';
import { EXIT } from './exit.ts';
import { readHandoffRequest, type HandoffRequest } from './handoffRequest.ts';
import {
  editSummary,
  lineOf,
  summaryText,
  textOf,
  whyLeft,
  type HandedOffOrLeft,
  type HandoffSummary,
} from './handoffResult.ts';
import { HANDOFF_HELP } from './help.ts';
import { InTurn } from './inTurn.ts';
import { eachFile, type FileSlot, type Outcome } from './manyFiles.ts';
import { shootFiles } from './shootFiles.ts';
import { whatIsUsed, type UsedFile } from './usedFiles.ts';

/** A whole shoot into the edit: files in place of the old ones, receipts, checksums, and the edit pointing to them. */
export async function handoffCommand(args: string[]): Promise<number> {
  const request = await readHandoffRequest(args);
  if (request.help) {
    process.stdout.write(HANDOFF_HELP);
    return EXIT.done;
  }
  const folder = resolve(request.out);
  const shoot = await shootFiles(request.inputs, folder);
  const used = await whatIsUsed(request, shoot.files);
  if (used.sources.length === 0)
    throw new Refusal('bad-request', `${request.edit} uses none of the recordings that were named.`);
  const isNew = !(await stat(folder).catch(() => null));
  await makeFolder(join(folder, RECEIPTS)).catch(() => {
    throw new Refusal('bad-request', `The folder ${request.out} can’t be made. Choose another with --out.`);
  });
  const lock = await HandoffLock.take(folder);
  let isComplete = true;
  try {
    const originals = shoot.files.map(({ path }) => path);
    const target = await TargetFolder.open(folder, originals, lock.interrupted);
    const taken = await target.notOurs(request.edit && basename(request.edit));
    if (taken !== null)
      throw new Refusal('not-allowed', `${join(request.out, taken)} is there already. Choose another --out.`);
    isComplete = false;
    const status = await handOffAll({
      request,
      folder,
      target,
      lock,
      ...used,
      ignored: notWanted(shoot.ignored, request),
    });
    isComplete = true;
    return status;
  } finally {
    await lock.release(isComplete);
    // Where nothing was written nothing is left.
    await rmdir(join(folder, RECEIPTS)).catch(() => undefined);
    if (isNew) await rmdir(folder).catch(() => undefined);
  }
}

/** What lies beside the recordings and is not the edit or the recipe that was named. */
function notWanted(ignored: readonly string[], { edit, recipe }: HandoffRequest): string[] {
  const named = [edit, recipe].flatMap((path) => (path === null ? [] : [resolve(path)]));
  return ignored.filter((path) => !named.includes(resolve(path)));
}

interface Work {
  request: HandoffRequest;
  folder: string;
  target: TargetFolder;
  lock: HandoffLock;
  edit: GivenEdit | null;
  sources: UsedFile[];
  ignored: string[];
}

async function handOffAll(work: Work): Promise<number> {
  const { folder, sources } = work;
  const scratch = await makeScratch(join(folder, 'any'));
  const turns = new InTurn(sources.length);
  const outcomes: Outcome<HandedOffOrLeft>[] = [];
  try {
    const leftOut = await eachFile(
      sources.map(({ path }) => path),
      (_, slot) => handOffOne(work, sources[slot.index], slot, scratch, turns).finally(() => turns.leave(slot.index)),
      (outcome) => outcomes.push(outcome),
    );
    if (leftOut > 0)
      throw new Refusal(
        'cancelled',
        `Stopped: ${leftOut} of ${sources.length} files were not handed off. The same call goes on with them.`,
      );
    return await finish(work, outcomes);
  } finally {
    await rm(scratch, { recursive: true, force: true });
  }
}

async function handOffOne(
  work: Work,
  used: UsedFile,
  slot: FileSlot,
  scratch: string,
  turns: InTurn,
): Promise<HandedOffOrLeft> {
  const { request, folder, target, lock, edit } = work;
  const { path, stem, stretches, mayBeSeveral } = used;
  const { index, ownThread, onProgress } = slot;
  const workingCopy = join(scratch, `${index}.pcm`);
  const outlineFolder = join(scratch, `${index}.outline`);
  const source = resolve(path);
  try {
    const stamp = await stampOf(path);
    const call = { key: request.key, bytes: stamp.bytes, modifiedMs: stamp.modifiedMs };
    const earlier = lock.interrupted && target.records.find(({ recording }) => recording.source === source);
    if (earlier && (await isStillThere(folder, earlier, call))) {
      await turns.reached(index);
      for (const { path: name } of earlier.files) await target.claim(name, source);
      return { record: earlier };
    }
    const { inspection, facts, pcm, sums } = await (ownThread
      ? inThread('look', { path, workingCopy, outlineFolder })
      : inspectFile(path, { workingCopy, outlineFolder }));
    const { frames, channels } = inspection.format;
    const sketch = await readSketch(outlineFolder, frames, channels);
    await rm(outlineFolder, { recursive: true });
    onProgress(0.4);
    const clip: HandoffClip = { path, inspection, facts, pcm: pcm!, sketch, sums, stamp };
    const decided = await request.decide(inspection, (base, finds) =>
      ownThread
        ? inThread('find', { source: pcm!, base, finds, inspection })
        : withClipSound(pcm!, (sound) => findOn(base, finds, inspection, sound)),
    );
    if ('leftAlone' in decided && decided.mustDecide)
      return { ...decided, recording: recordingOf({ inspection, facts, source, path: source }) };
    const repair = onTracks('repair' in decided ? decided.repair : null, facts.streams, {
      tracks: request.tracks,
      hasVideo: inspection.format.hasVideo,
      isInEdit: edit !== null,
      mayBeSeveral,
    });
    const spans = await cutsOf(clip, stretches, { repair, format: request.format, bits: request.bits });
    let left = spans.length;
    // In the order given, however long each takes: the same shoot gets the same names each time.
    const claim: HandoffOrder['claim'] = async (paths) => {
      await turns.reached(index);
      const claimed: string[] = [];
      for (const one of paths) {
        const name = await target.claim(one, source);
        await lock.claim(name, source);
        claimed.push(name);
      }
      if (--left === 0) turns.leave(index);
      return claimed;
    };
    const named = nameFor(request, stem, clip);
    const order = { ...{ clip, folder, scratch, claim, repair, inThreads: ownThread }, codedKbits: USUAL_CODED_KBITS };
    const done: HandedOff[] = [];
    for (const [i, span] of spans.entries())
      done.push(
        await handOffClip(
          {
            ...{ ...order, span, format: request.format, bits: request.bits, keepsTimes: request.keepsTimes },
            stem: spans.length === 1 ? named : `${named}-${i + 1}`,
          },
          ({ share }) => onProgress(0.4 + (0.6 * (i + share)) / spans.length),
        ),
      );
    const recording = recordingWith(done, spans, clip, { repair, format: request.format }, source);
    const record = recordOf(path, together(done), recording, call);
    await keepReceipt(folder, record);
    return { record };
  } finally {
    await rm(workingCopy, { force: true });
  }
}

/** At once, so that whoever goes on after a call that was cut short finds what is done. */
async function keepReceipt(folder: string, record: FolderRecord): Promise<void> {
  const path = join(folder, receiptPath(record));
  await mkdir(dirname(path), { recursive: true });
  await writeWhole(path, receiptText(record));
}

/** Its own name, or what the pattern makes of it; in the folders that it had. */
function nameFor({ name }: HandoffRequest, stem: string, { inspection, facts }: HandoffClip): string {
  if (name === null) return stem;
  const named = nameFrom(name, {
    ...{ name: basename(stem), setup: '', scene: facts.scene ?? '', take: facts.take ?? '' },
    ...{ role: facts.trackNames[0] ?? '', channel: String(inspection.format.channels) },
    date: facts.recordedAt?.slice(0, 10) ?? '',
  });
  return join(dirname(stem), named).replace(/^\.\//, '');
}

/** Receipts, the page, the edits and the checksums, when every file is there; then what is said of it all. */
async function finish(work: Work, outcomes: Outcome<HandedOffOrLeft>[]): Promise<number> {
  const { request, folder, target, lock, edit, ignored } = work;
  const results = outcomes.flatMap((outcome) => ('result' in outcome ? [outcome.result] : []));
  const records = results.flatMap((result) => ('record' in result ? [result.record] : []));
  let edits: WrittenEdit[] = [];
  // Where nothing was written there is nothing to be proven: whatever was in the folder stays as it was.
  if (records.length > 0) {
    for (const path of [RECEIPT_PAGE, ...(edit ? [edit.name] : [])]) await lock.claim(path, '');
    edits = await completeFolder({
      ...{ folder, title: `Handoff: ${basename(folder)}`, createdAt: new Date().toISOString() },
      ...{ records, before: target.records, edit, isInPlace: true },
      left: outcomes.flatMap((outcome) => {
        const why = whyLeft(outcome);
        return why === null ? [] : [{ file: basename(outcome.file), why }];
      }),
      others: results.flatMap((result) => ('recording' in result ? [result.recording] : [])),
    });
  }
  const written = edits.find(({ name }) => name === edit?.name) ?? edits[0] ?? null;
  const summary: HandoffSummary = {
    files: records.reduce((sum, { files }) => sum + new Set(files.map(({ path }) => path)).size, 0),
    left: outcomes.flatMap((outcome) => ('result' in outcome && 'leftAlone' in outcome.result ? [outcome.file] : [])),
    ...editSummary(written, request.out),
    ignored,
  };
  tell(request, outcomes, summary, written);
  const isOff =
    outcomes.some((outcome) => 'error' in outcome) ||
    records.some(({ receipt }) => damagedFile(receipt) !== undefined) ||
    edits.some(({ proof }) => proof.faults.length > 0);
  if (isOff) return EXIT.off;
  return summary.left.length > 0 ? EXIT.found : EXIT.done;
}

function tell(
  { json, out }: HandoffRequest,
  outcomes: Outcome<HandedOffOrLeft>[],
  summary: HandoffSummary,
  edit: WrittenEdit | null,
): void {
  if (json) {
    const lines = [...outcomes.map(lineOf(out)), { handoff: summary }];
    process.stdout.write(lines.map((line) => `${JSON.stringify(line)}\n`).join(''));
    return;
  }
  const all = summary.files === 0 ? 'Nothing was handed off.\n' : summaryText(summary, edit, out);
  process.stdout.write(outcomes.map(textOf).join('') + all);
}
