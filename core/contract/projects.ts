import { NewProject, Project, ProjectChange } from '../schema/project.ts';
import { endpoint } from './endpoint.ts';

export const projects = {
  listProjects: endpoint({
    method: 'get',
    path: '/projects',
    summary: 'All projects with their counts',
    answer: Project.array(),
  }),
  createProject: endpoint({
    method: 'post',
    path: '/projects',
    summary: 'Makes a project',
    body: NewProject,
    answer: Project,
    status: 201,
  }),
  getProject: endpoint({ method: 'get', path: '/projects/:projectId', summary: 'One project', answer: Project }),
  changeProject: endpoint({
    method: 'patch',
    path: '/projects/:projectId',
    summary: 'Renames, archives, or sets the intake rule or frame rate',
    body: ProjectChange,
    answer: Project,
  }),
  deleteProject: endpoint({
    method: 'delete',
    path: '/projects/:projectId',
    summary: 'Deletes a project; it can be put back for a day',
    status: 204,
  }),
  restoreProject: endpoint({
    method: 'post',
    path: '/projects/:projectId/restore',
    summary: 'Puts a deleted project back',
    answer: Project,
  }),
};
