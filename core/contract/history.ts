import { Batch } from '../schema/batch.ts';
import { endpoint } from './endpoint.ts';

export const history = {
  undoLast: endpoint({
    method: 'post',
    path: '/projects/:projectId/undo',
    summary: 'Takes back what was done last to clips or setups in one go',
    answer: Batch,
  }),
  redoNext: endpoint({
    method: 'post',
    path: '/projects/:projectId/redo',
    summary: 'Does again what was undone last',
    answer: Batch,
  }),
};
