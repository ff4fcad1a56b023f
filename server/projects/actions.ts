import type { NewProject, ProjectChange } from '@pocket-twin/core/schema/project.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { queueOpenClips } from '../clips/openClips.ts';
import { action, type ActionContext } from '../platform/action.ts';
import { ProjectRow } from './project.ts';

export function createProject(context: ActionContext, wanted: NewProject): Promise<ProjectRow> {
  return action(context, async ({ transaction, tell }) => {
    await tell({ kind: 'projects' });
    return ProjectRow.create(wanted, { transaction });
  });
}

/** Its name, rules, and whether it is in the archive. */
export function changeProject(
  context: ActionContext,
  project: ProjectRow,
  { archived, ...rest }: ProjectChange,
): Promise<void> {
  return action(context, async ({ transaction, tell }) => {
    const archivedAt = archived ? new Date() : null;
    await project.update({ ...rest, ...(archived !== undefined && { archivedAt }) }, { transaction });
    await tell({ kind: 'lineup', projectId: project.id });
    await tell({ kind: 'projects' });
  });
}

/** Takes a whole project away. It can be put back for a day. */
export function removeProject(context: ActionContext, project: ProjectRow): Promise<void> {
  return action(context, async ({ transaction, tell }) => {
    await project.update({ removedAt: new Date() }, { transaction });
    await tell({ kind: 'projects' });
  });
}

/** What waited to be measured when it was taken away goes on. */
export function restoreProject(context: ActionContext, projectId: string): Promise<void> {
  return action(context, async (step) => {
    const { transaction, tell } = step;
    const [found] = await ProjectRow.unscoped().update({ removedAt: null }, { where: { id: projectId }, transaction });
    if (found === 0) throw new Refusal('not-found', 'That project was deleted more than a day ago and is forgotten.');
    await queueOpenClips(step, projectId);
    await tell({ kind: 'projects' });
  });
}
