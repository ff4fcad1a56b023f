import { FolderOpen, Plus, Undo2 } from 'lucide-react';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { FileTrigger } from 'react-aria-components';
import styled from 'styled-components';
import { NewProject, type Project } from '@pocket-twin/core/schema/project.ts';
import { inBackground } from '../../parts/inBackground.ts';
import {
  sentenceOf,
  useDeleteProjectMutation,
  useListProjectsQuery,
  useRestoreProjectMutation,
} from '../../state/api.ts';
import { Button } from '../../parts/Button.tsx';
import { DropArea } from '../../parts/DropArea.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Body, Screen, Sheet, Soft } from '../../parts/Screen.tsx';
import { TopBar } from '../../frame/TopBar.tsx';
import { useFocusHome } from '../../parts/useFocusHome.ts';
import { useTitle } from '../../parts/useTitle.ts';
import { chosenFiles, droppedFiles } from '../../state/droppedFiles.ts';
import type { Incoming } from '../../state/uploadManager.ts';
import { ProjectCard } from './ProjectCard.tsx';
import { nameFor } from './projectName.ts';
import { useNewProject } from './useNewProject.ts';
import { zodResolver } from './zodResolver.ts';

/** All projects, what is left in them first, and the ways to a new one. */
export function ProjectsScreen() {
  useTitle('Projects');
  const { data: projects, error, isLoading } = useListProjectsQuery();
  const [archiveShown, setArchiveShown] = useState(false);
  const { make, isBusy, trouble } = useNewProject();
  const { deleted, remove, restore, trouble: deletingTrouble } = useDeleting();
  useFocusHome(() =>
    projects
      ? (document.querySelector<HTMLElement>('article a') ?? document.querySelector<HTMLElement>('main button'))
      : null,
  );
  const ordered = [...(projects ?? [])].sort(byWhatIsLeft);
  const current = ordered.filter(({ archived }) => !archived);
  const archived = ordered.filter((project) => project.archived);
  const begin = (incoming: Incoming[]): void => {
    if (incoming.length > 0) make(nameFor(incoming), incoming);
  };
  const cards = (some: Project[]) => (
    <List aria-busy={isLoading}>
      {some.map((project) => (
        <li key={project.id}>
          <ProjectCard project={project} onDelete={remove} />
        </li>
      ))}
    </List>
  );
  return (
    <Screen>
      <TopBar />
      <DropArea onItems={(items) => inBackground(droppedFiles(items).then(begin))}>
        <Body>
          <h1>{headline(projects && current)}</h1>
          <Soft>A project holds the clips of one film or series. Originals are only ever read.</Soft>
          {error !== undefined && <Notice tone="fix">{sentenceOf(error)}</Notice>}
          {(trouble ?? deletingTrouble) && <Notice tone="fix">{trouble ?? deletingTrouble}</Notice>}
          {deleted && (
            <Deleted role="status">
              <p>“{deleted.name}” is deleted. For a day it can be put back.</p>
              <Button autoFocus onPress={restore}>
                <Undo2 size={15} aria-hidden="true" />
                Undo
              </Button>
            </Deleted>
          )}
          <Columns>
            <div>
              {projects && current.length === 0 ? (
                <Soft>
                  {archived.length > 0
                    ? 'All projects are in the archive.'
                    : 'No project yet. Drop clips or a folder anywhere here, and there is one.'}
                </Soft>
              ) : (
                cards(current)
              )}
              {archived.length > 0 && (
                <Archive>
                  <Button kind="quiet" aria-expanded={archiveShown} onPress={() => setArchiveShown((shown) => !shown)}>
                    {archiveShown ? 'Hide the archive' : `Show the archive (${archived.length})`}
                  </Button>
                  {archiveShown && cards(archived)}
                </Archive>
              )}
            </div>
            <Beginnings>
              <h2>New project</h2>
              <Soft>Drop clips or a folder here: they become a project of the folder’s name.</Soft>
              <FileTrigger allowsMultiple onSelect={(files) => files && begin(chosenFiles(files))}>
                <Button kind="main" wide>
                  <Plus size={16} aria-hidden="true" />
                  Choose clips
                </Button>
              </FileTrigger>
              <FileTrigger acceptDirectory onSelect={(files) => files && begin(chosenFiles(files))}>
                <Button wide>
                  <FolderOpen size={16} aria-hidden="true" />
                  Choose a folder
                </Button>
              </FileTrigger>
              <NewProjectForm make={make} isBusy={isBusy} />
            </Beginnings>
          </Columns>
        </Body>
      </DropArea>
    </Screen>
  );
}

/** What is left to decide first, and of these what was worked on last. */
function byWhatIsLeft(a: Project, b: Project): number {
  const left = ({ standings: { open, look, measuring } }: Project): number => Number(open + look + measuring > 0);
  return left(b) - left(a) || (a.lastWorkedAt < b.lastWorkedAt ? 1 : -1);
}

function headline(projects: Project[] | undefined): string {
  const wrong = projects?.reduce((sum, project) => sum + project.wrong, 0) ?? 0;
  if (!projects || projects.length === 0) return 'Projects';
  if (wrong > 0) return wrong === 1 ? '1 clip would play wrong.' : `${wrong} clips would play wrong.`;
  return projects.some(({ standings, clips }) => standings.measuring > 0 || clips === 0)
    ? 'Projects'
    : 'Nothing here would play wrong.';
}

function useDeleting() {
  const [deleteProject, { error: deleteError }] = useDeleteProjectMutation();
  const [restoreProject, { error: restoreError }] = useRestoreProjectMutation();
  const [deleted, setDeleted] = useState<Project | null>(null);
  const failure = deleteError ?? restoreError;
  return {
    deleted,
    trouble: failure === undefined ? null : sentenceOf(failure),
    remove: (project: Project) => {
      deleteProject(project.id)
        .unwrap()
        .then(
          () => setDeleted(project),
          () => undefined,
        );
    },
    restore: () => {
      if (deleted)
        restoreProject(deleted.id)
          .unwrap()
          .then(
            () => setDeleted(null),
            () => undefined,
          );
    },
  };
}

function NewProjectForm({ make, isBusy }: { make: (name: string) => void; isBusy: boolean }) {
  const {
    register,
    handleSubmit,
    formState: { errors },
  } = useForm<NewProject>({ resolver: zodResolver(NewProject), defaultValues: { name: '' } });
  const submit = handleSubmit(({ name }) => make(name));
  const complaint = errors.name?.message;
  return (
    <form onSubmit={(event) => inBackground(submit(event))} noValidate>
      <label htmlFor="project-name">Or an empty one, by name</label>
      <div>
        <input
          id="project-name"
          autoComplete="off"
          aria-invalid={complaint !== undefined}
          aria-describedby="project-name-complaint"
          {...register('name')}
        />
        <Button type="submit" isDisabled={isBusy}>
          Make project
        </Button>
      </div>
      <Complaint id="project-name-complaint" role={complaint ? 'alert' : undefined}>
        {complaint}
      </Complaint>
    </form>
  );
}

const Columns = styled.div`
  display: grid; grid-template-columns: minmax(0, 1fr) 340px; gap: 24px; align-items: start; margin-top: 12px;
  @media (max-width: 900px) { grid-template-columns: minmax(0, 1fr); > :last-child { order: -1; } }
`;
const List = styled.ul`display: grid; grid-template-columns: repeat(auto-fill, minmax(min(340px, 100%), 1fr)); gap: 12px;`;
const Archive = styled.div`margin-top: 16px; display: flex; flex-direction: column; gap: 10px; align-items: flex-start; > ul { width: 100%; opacity: 0.85; }`;
const Beginnings = styled(Sheet)`
  padding: 16px 18px; display: flex; flex-direction: column; gap: 10px; border-style: dashed; border-width: 2px;
  h2 { font-size: 19px; }
  form { display: flex; flex-direction: column; gap: 6px; margin-top: 6px; > div { display: flex; gap: 8px; } }
  label { font-weight: 600; font-size: 13px; }
  input { flex: 1; min-width: 0; padding: 7px 10px; border: 1px solid var(--soft); border-radius: 9px; background: var(--paper); }
`;
const Deleted = styled.div`
  display: flex; align-items: center; gap: 10px; padding: 7px 8px 7px 16px; border-radius: 12px; background: var(--fine-wash);
  p { flex: 1; font-weight: 600; }
`;
const Complaint = styled.p`color: var(--fix); font-size: 13px; min-height: 18px;`;
