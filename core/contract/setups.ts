import * as z from 'zod';
import { Batch } from '../schema/batch.ts';
import { PairAnswer } from '../schema/lineup.ts';
import { ClipMove, SetupChange, SetupMerge } from '../schema/setup.ts';
import { endpoint } from './endpoint.ts';

export const setups = {
  moveClips: endpoint({
    method: 'post',
    path: '/projects/:projectId/clips/move',
    summary: 'Moves clips to another setup, or splits them off into a new one',
    body: ClipMove,
    answer: z.object({ setupId: z.uuid(), batch: Batch }),
  }),
  changeSetup: endpoint({
    method: 'patch',
    path: '/projects/:projectId/setups/:setupId',
    summary: 'Renames a setup, or sets its roles, its intake rule, or the recipe for clips that come in with it',
    body: SetupChange,
    answer: Batch,
  }),
  splitSetup: endpoint({
    method: 'post',
    path: '/projects/:projectId/setups/:setupId/split',
    summary: 'Makes a setup for each thing that the clips of a mixed setup carry',
    answer: Batch,
  }),
  mergeSetups: endpoint({
    method: 'post',
    path: '/projects/:projectId/setups/merge',
    summary: 'Puts all of one setup into another',
    body: SetupMerge,
    answer: Batch,
  }),
  answerPair: endpoint({
    method: 'post',
    path: '/projects/:projectId/pairs',
    summary: 'Says whether two files are the left and the right of one recording',
    body: PairAnswer,
    status: 204,
  }),
};
