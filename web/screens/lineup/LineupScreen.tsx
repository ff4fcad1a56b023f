import { FolderSearch, Plus, Redo2, Settings, Undo2 } from 'lucide-react';
import { memo, useCallback, useMemo, useState } from 'react';
import type { DropItem } from 'react-aria';
import { DialogTrigger, FileTrigger, Menu, MenuItem, MenuTrigger } from 'react-aria-components';
import { useParams } from 'react-router';
import styled from 'styled-components';
import { lineupHead } from '@pocket-twin/core/lineup/lineupHead.ts';
import type { Project } from '@pocket-twin/core/schema/project.ts';
import { inBackground } from '../../parts/inBackground.ts';
import {
  sentenceOf,
  useChangeProjectMutation,
  useGetProjectQuery,
  useLinkMutation,
  usePointAgainMutation,
} from '../../state/api.ts';
import { useLineup } from '../../state/useLineup.ts';
import { useAppDispatch, useAppSelector } from '../../state/store.ts';
import { AfterFirst } from '../../parts/AfterFirst.tsx';
import { Button } from '../../parts/Button.tsx';
import { DropArea } from '../../parts/DropArea.tsx';
import { Choices } from '../../parts/Field.tsx';
import { ScreenKeys } from '../../frame/keys/ScreenKeys.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { ProjectDialog } from '../../frame/ProjectDialog.tsx';
import { Body, Screen, Sheet, Soft } from '../../parts/Screen.tsx';
import { placesOf } from '../../frame/places.ts';
import { TopBar } from '../../frame/TopBar.tsx';
import { useFocusHome } from '../../parts/useFocusHome.ts';
import { useTitle } from '../../parts/useTitle.ts';
import { Announcements } from './Announcements.tsx';
import { ChoiceBar } from './ChoiceBar.tsx';
import { ColumnsMenu } from './ColumnsMenu.tsx';
import { chosenFiles, droppedFiles } from '../../state/droppedFiles.ts';
import { FilterBar, SearchBox } from './FilterBar.tsx';
import { useLineupKeys } from './lineupKeys.ts';
import { filtered, newsCame, pointingBegan, searched } from '../../state/lineupSlice.ts';
import { LinkDialog } from './LinkDialog.tsx';
import { NewsBar } from './NewsBar.tsx';
import { Questions } from './Questions.tsx';
import { LineupTable } from './table/LineupTable.tsx';
import { UploadList } from './UploadList.tsx';
import { useServices } from '../../state/services.ts';
import { useProjectHistory } from './useProjectHistory.ts';

/** All clips of a project: what every one carries, at a glance. */
export function LineupScreen() {
  const { projectId = '' } = useParams();
  const { data: project, error: projectError } = useGetProjectQuery(projectId);
  const { lineup, error, isLoading } = useLineup(projectId);
  const total = lineup?.all.length;
  const head = useMemo(() => lineup && lineupHead(lineup.all, lineup.edit?.usedSeconds), [lineup]);
  const { uploads } = useServices();
  useTitle(project?.name);
  useFocusHome(() =>
    total === undefined
      ? null
      : document.querySelector<HTMLElement>(total > 0 ? '[role="treegrid"] [role="row"][tabindex="0"]' : 'main button'),
  );
  const [keysShown, setKeysShown] = useState(false);
  const showKeys = useCallback(() => setKeysShown(true), []);
  const keys = useLineupKeys(projectId, lineup, showKeys);
  const drop = (items: DropItem[]): void => {
    inBackground(droppedFiles(items).then((incoming) => uploads.add(projectId, incoming)));
  };
  const failure = projectError ?? error;

  return (
    <ScreenKeys screen="lineup" keys={keys} isShown={keysShown} onClose={() => setKeysShown(false)}>
      <Screen>
        <TopBar
          projectName={project?.name}
          places={placesOf({ projectId, project: total === undefined ? undefined : { clips: total } }, 'Lineup')}
        >
          <ProjectButtons
            projectId={projectId}
            project={project}
            undoes={lineup?.history.undo ?? null}
            redoes={lineup?.history.redo ?? null}
            onKeys={showKeys}
          />
          <AddClips projectId={projectId} />
        </TopBar>
        <DropArea onItems={drop}>
          <Body>
            {failure !== undefined && <Notice tone="fix">{sentenceOf(failure)}</Notice>}
            {project?.archived && <ArchivedNotice projectId={projectId} />}
            {head && total !== undefined && total > 0 && (
              <Head>
                <div>
                  <h1>{head.headline}</h1>
                  <Soft>{head.detail}</Soft>
                </div>
                <SearchBox />
                <ColumnsMenu />
              </Head>
            )}
            <NewsBar projectId={projectId} />
            <UploadList projectId={projectId} manager={uploads} />
            {lineup && total !== undefined && total > 0 && (
              <AfterFirst>
                {() => (
                  <>
                    <Questions projectId={projectId} lineup={lineup} />
                    <FilterBar counts={lineup.counts} />
                    {lineup.shown > 0 ? <LineupTable projectId={projectId} lineup={lineup} /> : <NothingLike />}
                    <ChoiceBar projectId={projectId} lineup={lineup} />
                  </>
                )}
              </AfterFirst>
            )}
            {isLoading && <Soft role="status">Fetching the clips ...</Soft>}
            {total === 0 && <EmptyProject projectId={projectId} />}
            <Announcements projectId={projectId} lineup={lineup} />
          </Body>
        </DropArea>
        <PointAgain />
      </Screen>
    </ScreenKeys>
  );
}

interface ProjectButtonsProps {
  projectId: string;
  project: Project | undefined;
  /** What would be taken back, and done again; null where there is nothing. */
  undoes: string | null;
  redoes: string | null;
  onKeys: () => void;
}

/** What can be done about the project as a whole. Clips that come in by the hundred do not touch it. */
const ProjectButtons = memo(function ProjectButtons({
  projectId,
  project,
  undoes,
  redoes,
  onKeys,
}: ProjectButtonsProps) {
  const { undo, redo } = useProjectHistory(projectId);
  return (
    <>
      <Button
        kind="quiet"
        aria-label={undoes ? `Undo: ${undoes}` : 'Undo'}
        isDisabled={!undoes}
        shortcut="undo"
        onPress={undo}
      >
        <Undo2 size={15} aria-hidden="true" />
      </Button>
      <Button kind="quiet" aria-label={redoes ? `Redo: ${redoes}` : 'Redo'} isDisabled={!redoes} onPress={redo}>
        <Redo2 size={15} aria-hidden="true" />
      </Button>
      {project && (
        <DialogTrigger>
          <Button kind="quiet" aria-label="Project">
            <Settings size={16} aria-hidden="true" />
          </Button>
          <ProjectDialog project={project} />
        </DialogTrigger>
      )}
      <Button kind="quiet" aria-label="Keys" shortcut="keys" onPress={onKeys}>
        Keys
      </Button>
    </>
  );
});

/** Three ways in: files, a folder, or without copying. */
const AddClips = memo(function AddClips({ projectId }: { projectId: string }) {
  const { uploads } = useServices();
  const [linking, setLinking] = useState(false);
  return (
    <>
      <FileTrigger allowsMultiple onSelect={(files) => files && uploads.add(projectId, chosenFiles(files))}>
        <Button>
          <Plus size={16} aria-hidden="true" />
          Add clips
        </Button>
      </FileTrigger>
      <MenuTrigger>
        <Button aria-label="Other ways to add clips">
          <FolderSearch size={16} aria-hidden="true" />
        </Button>
        <Choices placement="bottom end">
          <Menu
            aria-label="Other ways to add clips"
            onAction={(key) =>
              key === 'link' ? setLinking(true) : chooseFolder((files) => uploads.add(projectId, chosenFiles(files)))
            }
          >
            <MenuItem id="folder">A whole folder ...</MenuItem>
            <MenuItem id="link">Without copying, from the server’s folders ...</MenuItem>
          </Menu>
        </Choices>
      </MenuTrigger>
      <LinkClips projectId={projectId} isOpen={linking} onOpenChange={setLinking} />
    </>
  );
});

function chooseFolder(onFiles: (files: FileList) => void): void {
  const input = document.createElement('input');
  input.type = 'file';
  input.webkitdirectory = true;
  input.onchange = () => {
    if (input.files) onFiles(input.files);
  };
  input.click();
}

function LinkClips({
  projectId,
  isOpen,
  onOpenChange,
}: {
  projectId: string;
  isOpen: boolean;
  onOpenChange: (open: boolean) => void;
}) {
  const [link] = useLinkMutation();
  const dispatch = useAppDispatch();
  const take = async (folder: number, paths: string[]): Promise<string | null> => {
    const answer = await link({ projectId, folder, paths });
    if ('error' in answer && answer.error) return sentenceOf(answer.error);
    const { clips = 0, skipped = [] } = answer.data ?? {};
    if (clips === 0) return skipped.length > 0 ? passedOver(skipped) : 'All of that is in the project already.';
    if (skipped.length > 0)
      dispatch(newsCame({ kind: 'said', projectId, tone: 'look', sentence: passedOver(skipped) }));
    return null;
  };
  return (
    <LinkDialog
      title="Bring in without copying"
      choose="many"
      onChosen={take}
      isOpen={isOpen}
      onOpenChange={onOpenChange}
    />
  );
}

/** The first of what was left out in words, the others by their number. */
function passedOver([first, ...others]: string[]): string {
  return others.length === 0 ? `Left out: ${first}` : `Left out: ${first} And ${others.length} more.`;
}

/** Finds the file of a linked clip that has moved. */
const PointAgain = memo(function PointAgain() {
  const dispatch = useAppDispatch();
  const pointing = useAppSelector((state) => state.lineup.pointing);
  const [point] = usePointAgainMutation();
  const take = async (folder: number, [path]: string[]): Promise<string | null> => {
    const answer = await point({ clipId: pointing!.clipId, folder, path });
    return 'error' in answer && answer.error ? sentenceOf(answer.error) : null;
  };
  return (
    <LinkDialog
      title={`Where is ${pointing?.name ?? 'it'} now?`}
      choose="file"
      onChosen={take}
      isOpen={pointing !== null}
      onOpenChange={(open) => {
        if (!open) dispatch(pointingBegan(null));
      }}
    />
  );
});

function NothingLike() {
  const dispatch = useAppDispatch();
  const showAll = (): void => {
    dispatch(searched(''));
    dispatch(filtered(undefined));
  };
  return (
    <Nothing>
      <div>
        <Soft>No clip is like that.</Soft>
        <Button onPress={showAll}>Show all clips</Button>
      </div>
    </Nothing>
  );
}

function ArchivedNotice({ projectId }: { projectId: string }) {
  const [change] = useChangeProjectMutation();
  return (
    <Notice tone="look">
      This project is in the archive.{' '}
      <Button kind="quiet" onPress={() => inBackground(change({ projectId, archived: false }))}>
        Take it out
      </Button>
    </Notice>
  );
}

function EmptyProject({ projectId }: { projectId: string }) {
  const { uploads } = useServices();
  const [linking, setLinking] = useState(false);
  return (
    <Empty>
      <h1>Drop your clips here.</h1>
      <Soft>
        Files or whole folders: WAV, or anything with sound in it, MP4, MOV, MXF, FLAC, MP3 and more. Each is measured
        as soon as it is in, and your originals are only read.
      </Soft>
      <div>
        <FileTrigger allowsMultiple onSelect={(files) => files && uploads.add(projectId, chosenFiles(files))}>
          <Button kind="main" autoFocus>
            <Plus size={16} aria-hidden="true" />
            Choose clips
          </Button>
        </FileTrigger>
        <Button onPress={() => setLinking(true)}>
          <FolderSearch size={16} aria-hidden="true" />
          Bring in without copying
        </Button>
      </div>
      <LinkClips projectId={projectId} isOpen={linking} onOpenChange={setLinking} />
    </Empty>
  );
}

const Head = styled.div`display: flex; flex-wrap: wrap; gap: 10px; align-items: flex-start; > div:first-child { flex: 1 1 320px; margin-right: 14px; } > button { min-height: 32px; padding: 4px 12px; }`;
const Nothing = styled(
  Sheet,
)`flex: 1; display: grid; place-items: center; > div { display: grid; gap: 10px; justify-items: center; }`;
const Empty = styled(Sheet)`
  flex: 1; display: flex; flex-direction: column; align-items: center; justify-content: center; gap: 14px; text-align: center;
  border-style: dashed; border-width: 2px; p { max-width: 52ch; } > div { display: flex; gap: 10px; }
`;
