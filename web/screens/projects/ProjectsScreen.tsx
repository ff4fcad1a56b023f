import { Ellipsis } from 'lucide-react';
import { formatDistanceToNow } from 'date-fns';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { Link, Menu, MenuItem, MenuTrigger } from 'react-aria-components';
import { useNavigate } from 'react-router';
import styled from 'styled-components';
import { NewProject, type Project } from '@pocket-twin/core/schema/project.ts';
import { ClipVerdict } from '@pocket-twin/core/schema/verdict.ts';
import { sentenceOf, useChangeProjectMutation, useCreateProjectMutation, useListProjectsQuery } from '../../api/api.ts';
import { Button } from '../../parts/Button.tsx';
import { Choices } from '../../parts/Field.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { ProjectDialog } from '../../parts/ProjectDialog.tsx';
import { Body, Screen, Sheet, Soft } from '../../parts/Screen.tsx';
import { TopBar } from '../../parts/TopBar.tsx';
import { TwinGlyph } from '../../parts/TwinGlyph.tsx';
import { useTitle } from '../../parts/useTitle.ts';
import { verdictWords } from '../../parts/verdictWords.ts';
import { zodResolver } from './zodResolver.ts';

/** All projects, and a new one. */
export function ProjectsScreen() {
  useTitle('Projects');
  const { data: projects, error, isLoading } = useListProjectsQuery();
  const [archiveShown, setArchiveShown] = useState(false);
  const current = projects?.filter(({ archived }) => !archived);
  const archived = projects?.filter((project) => project.archived) ?? [];
  return (
    <Screen>
      <TopBar />
      <Body>
        <h1>{headline(current)}</h1>
        <Soft>A project holds the clips of one film or series. Originals are only ever read.</Soft>
        {error && <Notice tone="fix">{sentenceOf(error)}</Notice>}
        <Columns>
          <div>
            {current?.length === 0
              ? <Soft>{archived.length > 0 ? 'All projects are in the archive.' : 'No project yet. Give the first one a name and add its clips.'}</Soft>
              : <List aria-busy={isLoading}>{current?.map((project) => <li key={project.id}><ProjectCard project={project} /></li>)}</List>}
            {archived.length > 0 && (
              <Archive>
                <Button kind="quiet" aria-expanded={archiveShown} onPress={() => setArchiveShown((shown) => !shown)}>
                  {archiveShown ? 'Hide the archive' : `Show the archive (${archived.length})`}
                </Button>
                {archiveShown && <List>{archived.map((project) => <li key={project.id}><ProjectCard project={project} /></li>)}</List>}
              </Archive>
            )}
          </div>
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
  const { clips, open, toFix, toLook, left, failed, verdicts } = project;
  const present = ClipVerdict.options.filter((verdict) => verdicts[verdict]);
  return (
    <Card>
      <Head>
        <Link href={`/projects/${project.id}`}>{project.name}</Link>
        <ProjectMenu project={project} />
      </Head>
      <Soft>{clips === 1 ? '1 clip' : `${clips} clips`} · made {formatDistanceToNow(project.createdAt, { addSuffix: true })}</Soft>
      {present.length > 0 && (
        <Verdicts aria-label="What they carry">
          {present.map((verdict) => (
            <li key={verdict}><TwinGlyph verdict={verdict} side={verdict === 'one-sided' ? 'left' : null} size={28} />{verdictWords(verdict)}<span className="numeric">{verdicts[verdict]}</span></li>
          ))}
        </Verdicts>
      )}
      <Counts>
        {toFix > 0 && <Count $tone="fix">{toFix} to fix</Count>}
        {toLook > 0 && <Count $tone="look">{toLook} to look at</Count>}
        {failed > 0 && <Count $tone="fix">{failed} not readable</Count>}
        {open > 0 && <Count $tone="look">{open} being measured</Count>}
        {toFix + toLook > 0 && left < toFix + toLook && <Count $tone="fine">{left === 0 ? 'All have their repair' : `${left} left to do`}</Count>}
        {clips > 0 && open + toFix + toLook + failed === 0 && <Count $tone="fine">Nothing to do</Count>}
      </Counts>
    </Card>
  );
}

function ProjectMenu({ project }: { project: Project }) {
  const [change] = useChangeProjectMutation();
  const [editing, setEditing] = useState(false);
  return (
    <>
      <MenuTrigger>
        <Button kind="quiet" aria-label={`More for ${project.name}`}><Ellipsis size={16} aria-hidden="true" /></Button>
        <Choices placement="bottom end">
          <Menu aria-label={`More for ${project.name}`} onAction={(key) => (key === 'edit' ? setEditing(true) : void change({ projectId: project.id, archived: !project.archived }))}>
            <MenuItem id="edit">Rename, intake, frame rate ...</MenuItem>
            <MenuItem id="archive">{project.archived ? 'Take out of the archive' : 'Archive'}</MenuItem>
          </Menu>
        </Choices>
      </MenuTrigger>
      <ProjectDialog project={project} isOpen={editing} onOpenChange={setEditing} />
    </>
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
const List = styled.ul`display: grid; grid-template-columns: repeat(auto-fill, minmax(340px, 1fr)); gap: 12px;`;
const Archive = styled.div`margin-top: 16px; display: flex; flex-direction: column; gap: 10px; align-items: flex-start; > ul { width: 100%; opacity: 0.85; }`;
const Card = styled(Sheet).attrs({ as: 'article' })`
  position: relative; display: flex; flex-direction: column; gap: 4px; padding: 14px 18px 16px; height: 100%; transition: border-color 120ms;
  &:hover { border-color: var(--ink); }
`;
const Head = styled.div`
  display: flex; justify-content: space-between; align-items: center; gap: 10px;
  a { font: 700 19px 'Bricolage Grotesque Variable', sans-serif; text-decoration: none; overflow: hidden; text-overflow: ellipsis; }
  a::after { content: ''; position: absolute; inset: 0; border-radius: 12px; }
  button { position: relative; z-index: 1; min-height: 30px; padding: 3px 8px; }
`;
const Verdicts = styled.ul`
  display: grid; grid-template-columns: 1fr 1fr; gap: 4px 14px; margin-top: 10px; font-size: 13px;
  li { display: grid; grid-template-columns: 30px minmax(0, 1fr) auto; gap: 7px; align-items: center; white-space: nowrap; }
  span { color: var(--soft); }
`;
const Counts = styled.div`display: flex; flex-wrap: wrap; gap: 8px; margin-top: auto; padding-top: 12px; min-height: 38px;`;
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
