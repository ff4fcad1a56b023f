import { Router } from 'express';
import { CONTRACT } from '@pocket-twin/core/contract/contract.ts';
import { KeyChanges, KeyScreen, NO_KEY_CHANGES } from '@pocket-twin/core/schema/keyChanges.ts';
import { answer } from '../http/answer.ts';
import { KeyChangesRow } from './keyChanges.ts';

export function keyChangesRoutes(): Router {
  const routes = Router();

  answer(routes, CONTRACT.getKeyChanges, async () => {
    const rows = await KeyChangesRow.findAll();
    return KeyChanges.parse({
      ...NO_KEY_CHANGES,
      ...Object.fromEntries(rows.map(({ screen, changes }) => [screen, changes])),
    });
  });

  answer(routes, CONTRACT.setKeyChanges, async ({ body }) => {
    await KeyChangesRow.bulkCreate(
      KeyScreen.options.map((screen) => ({ screen, changes: body[screen] })),
      { updateOnDuplicate: ['changes'] },
    );
    return body;
  });

  return routes;
}
