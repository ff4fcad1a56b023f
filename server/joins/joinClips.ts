import { randomUUID } from 'node:crypto';
import { basename, extname } from 'node:path';
import { NO_KINSHIP, planJoin, type Kinship } from '@pocket-twin/core/join/plan.ts';
import { bytesPerSample } from '@pocket-twin/core/pcm/sampleFormat.ts';

import type { Joining, JoinedFrom, JoinWanted } from '@pocket-twin/core/schema/joining.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { sideMark } from '@pocket-twin/core/setups/namePattern.ts';
import { ensureJoinable, type JoinSource } from '@pocket-twin/media/join/writeJoin.ts';
import { inThread } from '@pocket-twin/media/threads/inThread.ts';
import { makeClip } from '../clips/arrivals.ts';
import type { ClipRow } from '../clips/clip.ts';
import { findReadable } from '../clips/findRow.ts';
import type { HttpContext } from '../http/context.ts';
import { safeFileName } from '../platform/home/folders.ts';
import { joinSourceOf } from './writeJoined.ts';

/** How clips lie to each other, measured, and where each would start. @throws Refusal where they can't become one */
export async function forecastJoin(projectId: string, wanted: JoinWanted): Promise<Joining> {
  return (await lookAt(projectId, wanted)).joining;
}

/** Makes a clip of several. Its file is written before it is measured (writeJoined.ts). */
export async function joinClips(context: HttpContext, projectId: string, wanted: JoinWanted): Promise<ClipRow> {
  const { rows, sources, joining } = await lookAt(projectId, wanted);
  const id = randomUUID();
  const fileName = safeFileName(joinedName(rows));
  const joinedFrom: JoinedFrom = rows.map((row, i) => ({
    clipId: row.id,
    name: row.displayName ?? row.fileName,
    offsetSamples: joining.offsetsSamples[i],
    padFrames: joining.padsFrames[i],
  }));
  const bytes = sources.reduce((sum, { pcm }) => sum + joining.frames * pcm.channels * bytesPerSample(pcm.words), 0);
  const sourcePath = context.folders.original(id, fileName);
  return makeClip(context, { id, projectId, fileName, folder: '', bytes, sourcePath, joinedFrom });
}

async function lookAt(
  projectId: string,
  { clipIds, lineUp }: JoinWanted,
): Promise<{ rows: ClipRow[]; sources: JoinSource[]; joining: Joining }> {
  if (new Set(clipIds).size !== clipIds.length) throw new Refusal('bad-request', 'A clip can’t be joined with itself.');
  const found = [];
  for (const id of clipIds) found.push(await findReadable(id));
  const elsewhere = found.find(({ row }) => row.projectId !== projectId);
  if (elsewhere) throw new Refusal('conflict', `${elsewhere.row.fileName} belongs to another project.`);
  const sources = found.map(({ row, pcm }) => joinSourceOf(row, pcm));
  ensureJoinable(sources);
  const kinships: Kinship[] = [NO_KINSHIP];
  for (const { pcm } of sources.slice(1))
    kinships.push(await inThread('kinship', { first: sources[0].pcm, other: pcm }));
  const joining = planJoin(
    sources.map(({ pcm }) => pcm.frames),
    kinships,
    lineUp ? 'measured' : null,
    sources[0].pcm.sampleRate,
    sources.map(({ name }) => name),
  );
  return { rows: found.map(({ row }) => row), sources, joining };
}

/** "bank-walk.wav" of bank-walk_L.wav and bank-walk_R.wav; else the first one's name with what was done. */
function joinedName(rows: ClipRow[]): string {
  const stems = rows.map(({ fileName }) => basename(fileName, extname(fileName)));
  const marks = stems.map((stem) => sideMark(stem)?.rest ?? null);
  const [rest] = marks;
  return rest !== null && marks.every((other) => other === rest)
    ? `${stems[0].slice(0, rest.length)}.wav`
    : `${stems[0]}-joined.wav`;
}
