import { Clip } from '../schema/clip.ts';
import { Joining, JoinWanted } from '../schema/joining.ts';
import { endpoint } from './endpoint.ts';

export const joins = {
  forecastJoin: endpoint({
    method: 'post',
    path: '/projects/:projectId/join-forecasts',
    summary: 'How clips lie to each other, and what to be warned of; nothing is joined',
    body: JoinWanted,
    answer: Joining,
  }),
  joinClips: endpoint({
    method: 'post',
    path: '/projects/:projectId/joins',
    summary: 'Makes one clip of several: a left and a right, or several monos; its sources stay as they are',
    body: JoinWanted,
    answer: Clip,
    status: 201,
  }),
};
