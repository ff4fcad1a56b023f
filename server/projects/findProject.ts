import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { idOf } from '../http/problems.ts';
import { ProjectRow } from './project.ts';

/** @throws Refusal where there is none */
export async function findProject(projectId: string): Promise<ProjectRow> {
  const row = await ProjectRow.findByPk(idOf(projectId, 'project'));
  if (!row) throw noProject();
  return row;
}

export function noProject(): Refusal {
  return new Refusal('not-found', 'That project does not exist.');
}
