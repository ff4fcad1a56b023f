import { zodResolver } from './zodResolver.ts';
import { formatDistanceToNow } from 'date-fns';
import { useForm } from 'react-hook-form';
import { Link } from 'react-aria-components';
import { useNavigate } from 'react-router';
import styled from 'styled-components';
import { NewProject, type Project } from '@pocket-twin/core/schema/project.ts';
import { sentenceOf, useCreateProjectMutation, useListProjectsQuery } from '../../api/api.ts';
import { Button } from '../../parts/Button.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Body, Screen, Sheet, Soft } from '../../parts/Screen.tsx';
import { TopBar } from '../../parts/TopBar.tsx';
import { useTitle } from '../../parts/useTitle.ts';

/** All projects, and a new one. */
export function ProjectsScreen() {
  useTitle('Projects');
  const { data: projects, error, isLoading } = useListProjectsQuery();
  return (
    <Screen>
      <TopBar />
      <Body>
        <h1>{headline(projects)}</h1>
        <Soft>A project holds the clips of one film or series. Originals are only ever read.</Soft>
        {error && <Notice tone="fix">{sentenceOf(error)}</Notice>}
        <Columns>
          <List aria-busy={isLoading}>
            {projects?.map((project) => <li key={project.id}><ProjectCard project={project} /></li>)}
            {projects?.length === 0 && <Soft>No project yet. Give the first one a name and add its clips.</Soft>}
          </List>
          <NewProjectForm />
        </Columns>
      </Body>
    </Screen>
  );
}

function headline(projects: Project[] | undefined): string {
  const toFix = projects?.reduce((sum, project) => sum + project.toFix, 0) ?? 0;
  if (!projects || projects.length === 0) return 'Projects';
  if (toFix === 0 && projects.some(({ open, clips }) => open > 0 || clips === 0)) return 'Projects';
  if (toFix === 0) return 'Nothing here would play wrong.';
  return toFix === 1 ? '1 clip would play wrong.' : `${toFix} clips would play wrong.`;
}

function ProjectCard({ project }: { project: Project }) {
  const { clips, open, toFix, toLook } = project;
  return (
    <Card href={`/projects/${project.id}`}>
      <h2>{project.name}</h2>
      <Soft>{clips === 1 ? '1 clip' : `${clips} clips`} · made {formatDistanceToNow(project.createdAt, { addSuffix: true })}</Soft>
      <Counts>
        {toFix > 0 && <Count $tone="fix">{toFix} to fix</Count>}
        {toLook > 0 && <Count $tone="look">{toLook} to look at</Count>}
        {open > 0 && <Count $tone="look">{open} being measured</Count>}
        {clips > 0 && open + toFix + toLook === 0 && <Count $tone="fine">Nothing to do</Count>}
      </Counts>
    </Card>
  );
}

function NewProjectForm() {
  const [create, { error, isLoading }] = useCreateProjectMutation();
  const navigate = useNavigate();
  const { register, handleSubmit, formState: { errors } } = useForm<NewProject>({ resolver: zodResolver(NewProject), defaultValues: { name: '' } });
  const submit = handleSubmit(async (values) => {
    const project = await create(values).unwrap().catch(() => null);
    if (project) await navigate(`/projects/${project.id}`);
  });
  const complaint = errors.name?.message ?? (error && sentenceOf(error));
  return (
    <FormSheet>
      <form onSubmit={(event) => void submit(event)} noValidate>
        <h2>New project</h2>
        <label htmlFor="project-name">Name</label>
        <input id="project-name" autoComplete="off" aria-invalid={complaint !== undefined} aria-describedby="project-name-complaint" {...register('name')} />
        <Complaint id="project-name-complaint" role={complaint ? 'alert' : undefined}>{complaint}</Complaint>
        <Button type="submit" kind="main" isDisabled={isLoading}>Make project</Button>
      </form>
    </FormSheet>
  );
}

const Columns = styled.div`display: grid; grid-template-columns: minmax(0, 1fr) 340px; gap: 24px; align-items: start; margin-top: 12px;`;
const List = styled.ul`display: grid; grid-template-columns: repeat(auto-fill, minmax(300px, 1fr)); gap: 12px;`;
const Card = styled(Link)`
  display: flex; flex-direction: column; gap: 4px; padding: 16px 18px; text-decoration: none;
  background: var(--sheet); border: 1px solid var(--line); border-radius: 12px; transition: border-color 120ms;
  h2 { font-size: 19px; }
  &[data-hovered] { border-color: var(--ink); }
`;
const Counts = styled.div`display: flex; gap: 8px; margin-top: 10px; min-height: 26px;`;
const Count = styled.span<{ $tone: string }>`
  padding: 2px 10px; border-radius: 99px; font-weight: 600; font-size: 13px;
  color: ${({ $tone }) => `var(--${$tone})`}; background: ${({ $tone }) => `var(--${$tone}-wash)`};
`;
const FormSheet = styled(Sheet)`
  padding: 16px 18px;
  form { display: flex; flex-direction: column; gap: 8px; align-items: flex-start; }
  h2 { font-size: 19px; margin-bottom: 4px; }
  label { font-weight: 600; }
  input { width: 100%; padding: 8px 10px; border: 1px solid var(--soft); border-radius: 9px; background: var(--paper); }
`;
const Complaint = styled.p`color: var(--fix); min-height: 20px;`;
