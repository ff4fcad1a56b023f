import { QueryTypes, type Sequelize } from 'sequelize';
import type { EditEvent } from '@pocket-twin/core/edit/edit.ts';
import type { EditClip } from '@pocket-twin/core/edit/match.ts';
import { usedStretches } from '@pocket-twin/core/edit/usedStretches.ts';
import type { ProjectEdit } from '@pocket-twin/core/schema/edit.ts';
import { type FrameRate, frameRateId } from '@pocket-twin/core/time/frameRates.ts';
import { editFrom, nameOf, type EditFile } from '@pocket-twin/media/handoff/editFile.ts';
import { editOf, type EditRow } from './edit.ts';

/** A clip of the project as an edit may mean it. */
interface ProjectClip extends EditClip {
  id: string;
  name: string;
}

/** An edit as it was read, and which of the project's clips each of its events uses. */
export interface MatchedEdit {
  file: EditFile;
  clips: ProjectClip[];
  /** Places in `clips`, one list an event. */
  matches: number[][];
}

interface Columns {
  id: string;
  name: string;
  fileName: string;
  folder: string;
  linked: boolean;
  sourcePath: string;
  tape: string | null;
  startSeconds: number | null;
  durationSeconds: number;
  frameRate: FrameRate | null;
  projectFrameRate: FrameRate | null;
}

/** Matches an edit to the clips that its project has now. @throws Refusal where it can't be read */
export async function matchedEdit(
  sequelize: Sequelize,
  { projectId, name, text }: Pick<EditRow, 'projectId' | 'name' | 'text'>,
): Promise<MatchedEdit> {
  const rows = await sequelize.query<Columns>(
    `
    select c.id, coalesce(c."displayName", c.name) as name, c.name as "fileName", c.folder, c.linked, c."sourcePath", c.facts->>'tape' as tape,
      (c.facts->>'startSamples')::float8 / nullif((c.inspection->'format'->>'sampleRate')::float8, 0) as "startSeconds",
      coalesce((c.inspection->'format'->>'durationSeconds')::float8, 0) as "durationSeconds", c.facts->'frameRate' as "frameRate", p."frameRate" as "projectFrameRate"
    from clips c join projects p on p.id = c."projectId" where c."projectId" = :projectId and c."removedAt" is null order by c."createdAt", c.name, c.id`,
    { replacements: { projectId }, type: QueryTypes.SELECT },
  );
  const clips = rows.map(
    ({ id, name: called, fileName, folder, linked, sourcePath, tape, startSeconds, durationSeconds }): ProjectClip => ({
      ...{ id, name: called, reel: tape, startSeconds, durationSeconds },
      path: linked ? sourcePath : folder === '' ? fileName : `${folder}/${fileName}`,
    }),
  );
  const file = editFrom(text, name, null, frameRateOf(rows));
  return { file, clips, matches: file.matches(clips) };
}

/** What most of the clips are counted in: lists of events do not say. */
function frameRateOf(rows: Columns[]): FrameRate | undefined {
  const counts = new Map<string, { rate: FrameRate; count: number }>();
  for (const { frameRate } of rows) {
    const id = frameRateId(frameRate);
    if (frameRate === null || id === null) continue;
    counts.set(id, { rate: frameRate, count: (counts.get(id)?.count ?? 0) + 1 });
  }
  const [most] = [...counts.values()].sort((a, b) => b.count - a.count);
  return rows[0]?.projectFrameRate ?? most?.rate;
}

/** null where the project has no edit. */
export async function readProjectEdit(sequelize: Sequelize, projectId: string): Promise<ProjectEdit | null> {
  const row = await editOf(projectId);
  return row && projectEditOf(row, await matchedEdit(sequelize, row));
}

/** What a project's edit uses, as people are told. */
export function projectEditOf(row: EditRow, { file, clips, matches }: MatchedEdit): ProjectEdit {
  const usedBy = eventsByClip({ file, clips, matches });
  const missing = new Set<string>();
  const ambiguous = new Map<string, string[]>();
  for (const [i, event] of file.events.entries()) {
    if (matches[i].length === 0) missing.add(nameOf(event));
    else if (matches[i].length > 1)
      ambiguous.set(
        nameOf(event),
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

function secondsOf(events: EditEvent[], clip: ProjectClip): number {
  return usedStretches(events, clip, 0).reduce(
    (sum, { startSeconds, endSeconds }) => sum + endSeconds - startSeconds,
    0,
  );
}
