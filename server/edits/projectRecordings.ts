import { QueryTypes, type Sequelize } from 'sequelize';
import type { HandedOffRecording } from '@pocket-twin/core/schema/handedOffRecording.ts';
import type { FrameRate } from '@pocket-twin/core/time/frameRates.ts';

/** A clip of the project as an edit may mean it, with nothing of it handed off. */
export interface ProjectRecording extends HandedOffRecording {
  id: string;
  name: string;
  frameRate: FrameRate | null;
}

interface Columns {
  id: string;
  name: string;
  fileName: string;
  folder: string;
  linked: boolean;
  sourcePath: string;
  tape: string | null;
  startSamples: number | null;
  sampleRate: number | null;
  durationSeconds: number | null;
  channels: number | null;
  hasVideo: boolean | null;
  streams: { channels: number }[] | null;
  frameRate: FrameRate | null;
}

export async function projectRecordings(sequelize: Sequelize, projectId: string): Promise<ProjectRecording[]> {
  const rows = await sequelize.query<Columns>(
    `
    select c.id, coalesce(c."displayName", c.name) as name, c.name as "fileName", c.folder, c.linked, c."sourcePath", c.facts->>'tape' as tape,
      (c.facts->>'startSamples')::float8 as "startSamples", (c.inspection->'format'->>'sampleRate')::float8 as "sampleRate",
      (c.inspection->'format'->>'durationSeconds')::float8 as "durationSeconds", (c.inspection->'format'->>'channels')::int as channels,
      (c.inspection->'format'->>'hasVideo')::boolean as "hasVideo", c.facts->'streams' as streams, c.facts->'frameRate' as "frameRate"
    from clips c where c."projectId" = :projectId and c."removedAt" is null order by c."createdAt", c.name, c.id`,
    { replacements: { projectId }, type: QueryTypes.SELECT },
  );
  return rows.map(({ sampleRate, startSamples, ...row }) => ({
    ...{ id: row.id, name: row.name, frameRate: row.frameRate, source: row.sourcePath, path: editPath(row) },
    reel: row.tape,
    startSeconds: startSamples === null || !sampleRate ? null : startSamples / sampleRate,
    durationSeconds: row.durationSeconds ?? 0,
    // What is not measured yet is matched all the same.
    sampleRate: sampleRate ?? 48_000,
    hasPicture: row.hasVideo ?? false,
    streams: row.streams?.length ? row.streams.map(({ channels }) => channels) : row.channels ? [row.channels] : [],
    ...{ lost: [], pieces: [] },
  }));
}

/** Where an edit would look for a clip: where it lies, or where it lay when it was brought in. */
export function editPath({
  linked,
  sourcePath,
  folder,
  fileName,
}: {
  linked: boolean;
  sourcePath: string;
  folder: string;
  fileName: string;
}): string {
  if (linked) return sourcePath;
  return folder === '' ? fileName : `${folder}/${fileName}`;
}
