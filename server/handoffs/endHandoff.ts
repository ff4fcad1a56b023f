import { readdir, rm, rmdir } from 'node:fs/promises';
import { join } from 'node:path';
import { nameOfEvent } from '@pocket-twin/core/edit/edit.ts';
import type { EventState, WrittenEdit } from '@pocket-twin/core/edit/eventOutcome.ts';
import { recordingOf } from '@pocket-twin/core/handoff/recordingOf.ts';
import { noFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import type { HandedOffRecording } from '@pocket-twin/core/schema/handedOffRecording.ts';
import type { GivenEdit } from '@pocket-twin/core/schema/handoffRecord.ts';
import type { EditLinked } from '@pocket-twin/core/schema/handoff.ts';
import type { HandoffEndJob } from '@pocket-twin/core/contract/jobs.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { everythingIn, giveModes } from '@pocket-twin/media/disk/deliveredModes.ts';
import { RECEIPTS, type FolderRecord } from '@pocket-twin/media/handoff/folderRecords.ts';
import { TargetFolder } from '@pocket-twin/media/handoff/targetFolder.ts';
import { inThread } from '@pocket-twin/media/threads/inThread.ts';
import { EditRow } from '../edits/edit.ts';
import { projectRecordings, type ProjectRecording } from '../edits/projectRecordings.ts';
import { matchedEdit } from '../edits/useOfClips.ts';
import { action, type ActionContext, type Step } from '../platform/action.ts';
import { nobodyIsAt } from '../platform/queue/openRows.ts';
import { HandoffRow } from './handoff.ts';
import { HandoffFileRow, type HandoffResult } from './handoffFile.ts';
import { scratchOf } from './scratchOf.ts';

/** Has a handoff ended once none of its files is on its way any more. To be asked under a lock of its row. */
export async function endIfOver(handoff: HandoffRow, { transaction, send, sequelize, tell }: Step): Promise<void> {
  if (handoff.state !== 'running' && handoff.state !== 'finishing') return;
  const open = await HandoffFileRow.count({
    where: { handoffId: handoff.id, state: ['waiting', 'writing'] },
    transaction,
  });
  if (open > 0) return;
  await handoff.update({ state: 'finishing' }, { transaction });
  const [{ free }] = (
    await sequelize.query(`select ${nobodyIsAt('handoffEnd', 'handoffId', ':id')} as free`, {
      replacements: { id: handoff.id },
      transaction,
    })
  )[0] as { free: boolean }[];
  if (free) await send('handoffEnd', { handoffId: handoff.id });
  await tell({ kind: 'handoff', id: handoff.id });
}

/** Receipts, the page to read, the edit and the checksums; what is not there any more is left behind by nobody. */
export async function endHandoff(context: ActionContext, { handoffId }: HandoffEndJob): Promise<void> {
  const handoff = await HandoffRow.findByPk(handoffId);
  if (handoff?.state !== 'finishing') return;
  const files = await HandoffFileRow.scope('withResult').findAll({
    where: { handoffId },
    order: [['position', 'ASC']],
  });
  const folder = handoff.folder!;
  await removeScratch(folder, files);
  const written = files.flatMap((file) => (file.result ? [{ file, result: file.result }] : []));
  let linked: WrittenEdit | null = null;
  if (written.length > 0) {
    const clips = await projectRecordings(context.sequelize, handoff.projectId);
    const edit = await givenEdit(context, handoff);
    const target = await TargetFolder.open(folder, []);
    const edits = await inThread('complete', {
      ...{ folder, title: `Handoff: ${handoff.name}`, createdAt: new Date().toISOString(), edit },
      records: written.map(({ file, result }) => recordFor(file, result, clips)),
      before: [...target.records],
      left: files.flatMap(({ name, state, error, result }) =>
        result ? [] : [{ file: name, why: whyNot(state, error) }],
      ),
      others: clips.map(({ id: _id, name: _name, frameRate: _rate, ...recording }) => recording),
      isInPlace: handoff.wanted.place.kind !== 'download',
    });
    if (handoff.wanted.place.kind !== 'download') await giveModes(folder, await everythingIn(folder));
    linked = edits.find(({ name }) => name === edit?.name) ?? null;
  } else await removeIfEmpty(folder);
  await action(context, async ({ transaction, tell }) => {
    await handoff.update(
      {
        state: files.some(({ state }) => state === 'cancelled') ? 'cancelled' : 'done',
        said: null,
        finishedAt: new Date(),
        edit: linked && editLinkedOf(linked),
      },
      { transaction },
    );
    await tell({ kind: 'handoff', id: handoffId });
  });
}

export async function giveUpEnding(
  context: ActionContext,
  { handoffId }: HandoffEndJob,
  error: unknown,
): Promise<void> {
  const said =
    error instanceof Refusal
      ? error.message
      : 'The files are there, but their receipts could not be written; the log says why. Try again.';
  await action(context, async ({ transaction, tell }) => {
    await HandoffRow.update({ state: 'paused', said }, { where: { id: handoffId }, transaction });
    await tell({ kind: 'handoff', id: handoffId });
  });
}

function whyNot(state: HandoffFileRow['state'], error: string | null | undefined): string {
  return state === 'cancelled' ? 'It was cancelled before its turn.' : (error ?? 'It was not written.');
}

function recordFor(file: HandoffFileRow, result: HandoffResult, clips: readonly ProjectRecording[]): FolderRecord {
  const recording = result.recording ?? recordingByFiles(file, result, clips);
  return { file: file.name, receipt: result.receipt, files: result.files, recording, also: result.also, call: null };
}

/** Of a handoff that an earlier version of the application began: channels as its files have them. */
function recordingByFiles(
  { clipId, name }: HandoffFileRow,
  { receipt, files }: HandoffResult,
  clips: readonly ProjectRecording[],
): HandedOffRecording {
  const { format } = receipt.before;
  const clip = clips.find(({ id }) => id === clipId);
  const facts = noFacts(format.channels);
  const whole = recordingOf({
    source: clip?.source ?? name,
    path: clip?.path ?? name,
    inspection: receipt.before,
    facts,
  });
  const written = files.map(({ path }, i) => ({
    ...{ path, label: '', hasPicture: format.hasVideo },
    streams: [receipt.files[i].after.channels.map((_, channel) => [Math.min(channel + 1, format.channels)])],
  }));
  return { ...whole, pieces: [{ startSeconds: 0, endSeconds: format.durationSeconds, files: written }] };
}

/** The edit of a handoff as it was given; null where none comes along. */
async function givenEdit({ sequelize }: ActionContext, { editId, wanted }: HandoffRow): Promise<GivenEdit | null> {
  const edit = editId ? await EditRow.findByPk(editId) : null;
  if (!edit) return null;
  const { rate } = await matchedEdit(sequelize, edit);
  return { version: 1, name: edit.name, text: edit.text, home: null, rate, markers: wanted.markers };
}

/** What is kept of how the edit came out. */
function editLinkedOf({ name, events, proof }: WrittenEdit): EditLinked {
  const named = (state: EventState): string[] => [
    ...new Set(events.filter((one) => one.state === state).map(({ event }) => nameOfEvent(event))),
  ];
  return {
    name,
    events: events.length,
    matched: events.filter(({ recording }) => recording !== null).length,
    replaced: events.filter(({ files }) => files.length > 0).length,
    ...{ missing: named('missing'), ambiguous: named('ambiguous'), loses: named('loses'), proof },
  };
}

/** What a worker that was killed had begun. */
async function removeScratch(folder: string, files: HandoffFileRow[]): Promise<void> {
  const there = new Set(await readdir(folder).catch(() => []));
  for (const { id } of files) {
    const name = scratchOf(id);
    if (there.has(name)) await rm(join(folder, name), { recursive: true, force: true });
  }
}

/** Where nothing was handed off nothing is left, but for what was there before. */
async function removeIfEmpty(folder: string): Promise<void> {
  await rmdir(join(folder, RECEIPTS)).catch(() => undefined);
  await rmdir(folder).catch(() => undefined);
}
