import { Router } from 'express';
import { CONTRACT } from '@pocket-twin/core/contract/contract.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import { problemWith } from '@pocket-twin/core/repair/plan/problemWith.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { framesOfSeconds } from '@pocket-twin/core/time/spans.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { inThread } from '@pocket-twin/media/threads/inThread.ts';
import { findClip } from '../clips/clip.ts';
import { findMeasured, findReadable, findRow } from '../clips/findRow.ts';
import { answer } from '../http/answer.ts';
import type { HttpContext } from '../http/context.ts';
import { findProject } from '../projects/findProject.ts';
import { keepRepair, redoRepair, undoRepair } from './actions.ts';
import { useSuggestion } from './suggestions.ts';

/** @throws Refusal naming the clip where a repair can't be done to it */
function ensureFits(repair: Repair, fileName: string, shape: Parameters<typeof problemWith>[1]): void {
  const problem = problemWith(repair, shape);
  if (problem) throw new Refusal('conflict', `${fileName}: ${problem}`);
}

export function repairRoutes(context: HttpContext): Router {
  const routes = Router();
  const one = async (id: string): Promise<Clip> => (await findClip(id))!;

  answer(routes, CONTRACT.keepRepair, async ({ params, body }) => {
    const { row } = await findMeasured(params.clipId);
    await keepRepair(context, row.id, body);
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

  answer(routes, CONTRACT.forecast, async ({ params, body: { repair, quick } }) => {
    const { row, pcm } = await findReadable(params.clipId);
    ensureFits(repair, row.fileName, pcm);
    return inThread('forecast', { source: pcm, repair, quick });
  });

  answer(routes, CONTRACT.propose, async ({ params, body: { base, finds } }) => {
    const { row, pcm, inspection } = await findReadable(params.clipId);
    ensureFits(base, row.fileName, pcm);
    return inThread('find', { source: pcm, base, finds, inspection });
  });

  answer(routes, CONTRACT.measureLineUp, async ({ params, body: { channels, span } }) => {
    const { row, pcm } = await findReadable(params.clipId);
    const beyond = channels.find((channel) => channel > pcm.channels);
    if (beyond !== undefined)
      throw new Refusal('conflict', `There is no channel ${beyond}: ${row.fileName} has ${pcm.channels}.`);
    const frames = span ? framesOfSeconds(span, pcm.sampleRate) : { startFrame: 0, endFrame: pcm.frames };
    const within = {
      startFrame: Math.min(frames.startFrame, pcm.frames),
      endFrame: Math.min(frames.endFrame, pcm.frames),
    };
    return inThread('lineUp', { source: pcm, channels, span: within });
  });

  answer(routes, CONTRACT.useSuggestion, async ({ params, body }) =>
    useSuggestion(context, (await findProject(params.projectId)).id, body),
  );

  return routes;
}
