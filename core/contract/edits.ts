import { EditGiven, ProjectEdit } from '../schema/edit.ts';
import { endpoint } from './endpoint.ts';

export const edits = {
  readEdit: endpoint({
    method: 'put',
    path: '/projects/:projectId/edit',
    summary: 'Reads the edit of a project (OpenTimelineIO or CMX 3600) and matches it to its clips',
    body: EditGiven,
    answer: ProjectEdit,
  }),
  forgetEdit: endpoint({
    method: 'delete',
    path: '/projects/:projectId/edit',
    summary: 'The project has no edit any more',
    status: 204,
  }),
};
