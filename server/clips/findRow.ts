import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import type { PcmLocation } from '@pocket-twin/core/schema/pcmLocation.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { idOf } from '../http/problems.ts';
import { ProjectRow } from '../projects/project.ts';
import { ClipRow } from './clip.ts';
import { ensureSourceHere } from './linkedSources.ts';

/** @throws Refusal where neither it nor its project is there */
export async function findRow(clipId: string): Promise<ClipRow> {
  const row = await ClipRow.findByPk(idOf(clipId, 'clip'));
  if (!row || !(await ProjectRow.findByPk(row.projectId, { attributes: ['id'] })))
    throw new Refusal('not-found', 'That clip is no longer in the project.');
  return row;
}

interface Measured {
  row: ClipRow;
  pcm: PcmLocation;
  inspection: Inspection;
}

/** @throws Refusal where it has not been measured */
export async function findMeasured(clipId: string): Promise<Measured> {
  const row = await findRow(clipId);
  if (!row.pcm || !row.inspection) throw new Refusal('conflict', `${row.fileName} has not been measured yet.`);
  return { row, pcm: row.pcm, inspection: row.inspection };
}

/** For what reads the clip's own samples. @throws Refusal where they are no longer what was measured */
export async function findReadable(clipId: string): Promise<Measured> {
  const found = await findMeasured(clipId);
  await ensureSourceHere(found.row);
  return found;
}
