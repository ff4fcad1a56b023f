import { QueryTypes, type Sequelize } from 'sequelize';
import { nameOfEvent } from '@pocket-twin/core/edit/edit.ts';
import { asDone } from '@pocket-twin/core/handoff/onTracks.ts';
import { withPieces, type WrittenPiece } from '@pocket-twin/core/handoff/recordingOf.ts';
import { inStreams } from '@pocket-twin/core/repair/plan/inStreams.ts';
import { noFacts, type ClipFacts } from '@pocket-twin/core/schema/clipFacts.ts';
import type { HandedOffRecording } from '@pocket-twin/core/schema/handedOffRecording.ts';
import type { HandoffForecast, HandoffWanted } from '@pocket-twin/core/schema/handoff.ts';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import type { ProjectRecording } from '../edits/projectRecordings.ts';
import { eventsByClip } from '../edits/useOfClips.ts';
import type { HandoffPlan, PlannedFile } from './planHandoff.ts';

type Measured = { id: string; inspection: Inspection; facts: ClipFacts | null };

/** What would become of the edit, event by event: by the very code that writes it, on files that are not there yet. */
export async function forecastEdit(
  sequelize: Sequelize,
  { row, matched }: NonNullable<HandoffPlan['edit']>,
  files: readonly PlannedFile[],
  paths: readonly string[][],
  { format }: Pick<HandoffWanted, 'format'>,
): Promise<NonNullable<HandoffForecast['edit']>> {
  const used = [...eventsByClip(matched).keys()].map((place) => matched.clips[place].id);
  const measured = used.length === 0 ? [] : await measuredClips(sequelize, used);
  const byId = new Map(measured.map((clip) => [clip.id, clip]));
  const plans = new Map(
    files.flatMap((file, i) => [file.clipId, file.partnerId].map((id) => [id, { file, paths: paths[i] }])),
  );
  const recordings = matched.clips.map((clip): ProjectRecording => {
    const plan = plans.get(clip.id);
    const clipMeasured = byId.get(clip.id);
    return plan && clipMeasured ? { ...clip, ...planned(clip, plan, clipMeasured, format) } : clip;
  });
  const { events } = matched.file.link(recordings, null);
  return {
    name: row.name,
    addedTracks: addedTracks(events),
    events: events.map(({ event, recording, state, files: now, lost }) => ({
      ...{ name: nameOfEvent(event), track: event.track, state, files: now, lost },
      clipId: (recording as ProjectRecording | null)?.id ?? null,
      recordStartSeconds: event.recordStartSeconds,
      recordEndSeconds: event.recordEndSeconds,
      streams: recording?.streams ?? [],
    })),
  };
}

function planned(
  clip: ProjectRecording,
  { file, paths }: { file: PlannedFile; paths: string[] },
  { inspection, facts }: Measured,
  format: HandoffWanted['format'],
): HandedOffRecording {
  const repair = file.partnerId === null ? asDone(file.repair) : null;
  const own = facts ?? noFacts(inspection.format.channels);
  const isFilm = clip.hasPicture && format === 'same';
  const stretches = file.stretches ?? [{ startSeconds: 0, endSeconds: clip.durationSeconds }];
  const each = paths.length / stretches.length;
  const pieces = stretches.map((stretch, i): WrittenPiece => ({
    ...stretch,
    repair: repair && isFilm ? inStreams(repair, own.streams) : repair,
    paths: paths.slice(i * each, (i + 1) * each),
    hasPicture: isFilm,
  }));
  return withPieces({ source: clip.source, path: clip.path, inspection, facts: own }, pieces);
}

function measuredClips(sequelize: Sequelize, ids: string[]): Promise<Measured[]> {
  return sequelize.query<Measured>(
    'select id, inspection, facts from clips where id in (:ids) and inspection is not null',
    { replacements: { ids }, type: QueryTypes.SELECT },
  );
}

/** As many for each track as the most further files of any of its clips. */
function addedTracks(events: readonly { event: { track: string | null }; files: readonly unknown[] }[]): number {
  const most = new Map<string | null, number>();
  for (const { event, files } of events) most.set(event.track, Math.max(most.get(event.track) ?? 0, files.length - 1));
  return [...most.values()].reduce((sum, count) => sum + Math.max(0, count), 0);
}
