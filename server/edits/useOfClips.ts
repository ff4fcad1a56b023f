import type { Sequelize } from 'sequelize';
import type { EditEvent } from '@pocket-twin/core/edit/edit.ts';
import { usedStretches } from '@pocket-twin/core/edit/usedStretches.ts';
import type { ProjectEdit } from '@pocket-twin/core/schema/edit.ts';
import { type FrameRate, frameRateId } from '@pocket-twin/core/time/frameRates.ts';
import { nameOfEvent } from '@pocket-twin/core/edit/edit.ts';
import { editFrom, type EditFile } from '@pocket-twin/media/handoff/editFile.ts';
import { ProjectRow } from '../projects/project.ts';
import { editOf, type EditRow } from './edit.ts';
import { projectRecordings, type ProjectRecording } from './projectRecordings.ts';

/** An edit as it was read, and which of the project's clips each of its events uses. */
export interface MatchedEdit {
  file: EditFile;
  clips: ProjectRecording[];
  /** Places in `clips`, one list an event. */
  matches: number[][];
  /** What a list is counted in; null where nobody knows. */
  rate: FrameRate | null;
}

/** Matches an edit to the clips that its project has now. @throws Refusal where it can't be read */
export async function matchedEdit(
  sequelize: Sequelize,
  { projectId, name, text }: Pick<EditRow, 'projectId' | 'name' | 'text'>,
): Promise<MatchedEdit> {
  const clips = await projectRecordings(sequelize, projectId);
  const project = await ProjectRow.findByPk(projectId, { attributes: ['frameRate'] });
  const rate = project?.frameRate ?? commonRate(clips);
  const file = editFrom(text, name, null, rate ?? undefined);
  return { file, clips, matches: file.matches(clips), rate };
}

/** What most of the clips are counted in: lists of events do not say. */
function commonRate(clips: readonly ProjectRecording[]): FrameRate | null {
  const counts = new Map<string, { rate: FrameRate; count: number }>();
  for (const { frameRate } of clips) {
    const id = frameRateId(frameRate);
    if (frameRate === null || id === null) continue;
    counts.set(id, { rate: frameRate, count: (counts.get(id)?.count ?? 0) + 1 });
  }
  const [most] = [...counts.values()].sort((a, b) => b.count - a.count);
  return most?.rate ?? null;
}

/** null where the project has no edit. */
export async function readProjectEdit(sequelize: Sequelize, projectId: string): Promise<ProjectEdit | null> {
  const row = await editOf(projectId);
  return row && projectEditOf(row, await matchedEdit(sequelize, row));
}

/** What a project's edit uses, as people are told. */
export function projectEditOf(row: EditRow, matched: MatchedEdit): ProjectEdit {
  const { file, clips, matches } = matched;
  const usedBy = eventsByClip(matched);
  const missing = new Set<string>();
  const ambiguous = new Map<string, string[]>();
  for (const [i, event] of file.events.entries()) {
    if (matches[i].length === 0) missing.add(nameOfEvent(event));
    else if (matches[i].length > 1)
      ambiguous.set(
        nameOfEvent(event),
        matches[i].map((clip) => clips[clip].name),
      );
  }
  return {
    id: row.id,
    name: row.name,
    events: file.events.length,
    matched: matches.filter(({ length }) => length === 1).length,
    missing: [...missing],
    ambiguous: [...ambiguous].map(([name, names]) => ({ name, clips: names })),
    usedSeconds: Object.fromEntries(
      [...usedBy].map(([clip, events]) => [clips[clip].id, secondsOf(events, clips[clip])]),
    ),
    readAt: row.createdAt.toISOString(),
  };
}

/** The events that use each clip, by its place; what is ambiguous is nobody's. */
export function eventsByClip({ file, matches }: MatchedEdit): Map<number, EditEvent[]> {
  const used = new Map<number, EditEvent[]>();
  for (const [i, event] of file.events.entries()) {
    if (matches[i].length !== 1) continue;
    const [clip] = matches[i];
    used.set(clip, [...(used.get(clip) ?? []), event]);
  }
  return used;
}

function secondsOf(events: EditEvent[], clip: ProjectRecording): number {
  return usedStretches(events, clip, 0).reduce(
    (sum, { startSeconds, endSeconds }) => sum + endSeconds - startSeconds,
    0,
  );
}
