import { Router } from 'express';
import { CONTRACT } from '@pocket-twin/core/contract/contract.ts';
import { answer } from '../http/answer.ts';
import type { HttpContext } from '../http/context.ts';
import { action } from '../platform/action.ts';
import { findProject } from '../projects/findProject.ts';
import { EditRow } from './edit.ts';
import { matchedEdit, projectEditOf } from './useOfClips.ts';

export function editRoutes(context: HttpContext): Router {
  const routes = Router();

  answer(routes, CONTRACT.readEdit, async ({ params, body: { fileName, text } }) => {
    const { id: projectId } = await findProject(params.projectId);
    // Whether it is an edit at all shows before it takes the place of another.
    const matched = await matchedEdit(context.sequelize, { projectId, name: fileName, text });
    const row = await action(context, async ({ transaction, tell }) => {
      await EditRow.update({ replacedAt: new Date() }, { where: { projectId, replacedAt: null }, transaction });
      const created = await EditRow.create({ projectId, name: fileName, text }, { transaction });
      await tell({ kind: 'lineup', projectId });
      return created;
    });
    return projectEditOf(row, matched);
  });

  answer(routes, CONTRACT.forgetEdit, async ({ params }) => {
    const { id: projectId } = await findProject(params.projectId);
    await action(context, async ({ transaction, tell }) => {
      await EditRow.update({ replacedAt: new Date() }, { where: { projectId, replacedAt: null }, transaction });
      await tell({ kind: 'lineup', projectId });
    });
  });

  return routes;
}
