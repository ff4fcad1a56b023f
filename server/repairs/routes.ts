import { Router } from 'express';
import { CONTRACT } from '@pocket-twin/core/contract/contract.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { inThread } from '@pocket-twin/media/threads/inThread.ts';
import { findClip } from '../clips/clip.ts';
import { findMeasured, findReadable, findRow } from '../clips/findRow.ts';
import { answer } from '../http/answer.ts';
import type { HttpContext } from '../http/context.ts';
import { findProject } from '../projects/findProject.ts';
import { keepRepair, redoRepair, undoRepair } from './actions.ts';
import { useSuggestion } from './suggestions.ts';

export function repairRoutes(context: HttpContext): Router {
  const routes = Router();
  const one = async (id: string): Promise<Clip> => (await findClip(id))!;

  answer(routes, CONTRACT.keepRepair, async ({ params, body }) => {
    const { row } = await findMeasured(params.clipId);
    await keepRepair(context, row.id, body.repair);
    return one(row.id);
  });

  answer(routes, CONTRACT.undoRepair, async ({ params }) => {
    const { id } = await findRow(params.clipId);
    await undoRepair(context, id);
    return one(id);
  });

  answer(routes, CONTRACT.redoRepair, async ({ params }) => {
    const { id } = await findRow(params.clipId);
    await redoRepair(context, id);
    return one(id);
  });

  answer(routes, CONTRACT.forecast, async ({ params, body: { repair } }) => {
    const { row, pcm } = await findReadable(params.clipId);
    if (repair.inputChannels !== pcm.channels)
      throw new Refusal(
        'conflict',
        `${row.fileName} has ${pcm.channels} channels; the repair is for ${repair.inputChannels}.`,
      );
    return inThread('forecast', { source: pcm, repair });
  });

  answer(routes, CONTRACT.useSuggestion, async ({ params, body }) =>
    useSuggestion(context, (await findProject(params.projectId)).id, body),
  );

  return routes;
}
