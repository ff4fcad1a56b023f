import { FolderSearch, Plus, Settings } from 'lucide-react';
import { useMemo, useState } from 'react';
import { DialogTrigger, DropZone, FileTrigger, Menu, MenuItem, MenuTrigger, type DropZoneProps } from 'react-aria-components';
import { useParams } from 'react-router';
import styled from 'styled-components';
import { sentenceOf, useGetProjectQuery, useLineupQuery, useLinkMutation, usePointAgainMutation } from '../../api/api.ts';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { Button } from '../../parts/Button.tsx';
import { Choices } from '../../parts/Field.tsx';
import { KeysOverlay } from '../../parts/KeysOverlay.tsx';
import { useScreenKeys } from '../../parts/keys.ts';
import { Notice } from '../../parts/Notice.tsx';
import { ProjectDialog } from '../../parts/ProjectDialog.tsx';
import { Body, Screen, Sheet, Soft } from '../../parts/Screen.tsx';
import { TopBar } from '../../parts/TopBar.tsx';
import { useTitle } from '../../parts/useTitle.ts';
import { ChoiceBar } from './ChoiceBar.tsx';
import { ColumnsMenu } from './ColumnsMenu.tsx';
import { chosenFiles, droppedFiles } from './droppedFiles.ts';
import { FilterBar, SearchBox } from './FilterBar.tsx';
import { useLineupKeys } from './lineupKeys.ts';
import { pointingBegan } from './lineupSlice.ts';
import { LinkDialog } from './LinkDialog.tsx';
import { NewsBar } from './NewsBar.tsx';
import { Questions } from './Questions.tsx';
import { LineupTable } from './table/LineupTable.tsx';
import { UploadList } from './UploadList.tsx';
import { useUploadManager } from './uploadManager.ts';

/** All clips of a project: what every one carries, at a glance. */
export function LineupScreen() {
  const { projectId = '' } = useParams();
  const { data: project, error: projectError } = useGetProjectQuery(projectId);
  const { query, grouped } = useAppSelector((state) => state.lineup);
  const { data: lineup, error, isLoading } = useLineupQuery(useMemo(() => ({ projectId, ...query, grouped }), [projectId, query, grouped]));
  const manager = useUploadManager();
  useTitle(project?.name);
  const [keysShown, setKeysShown] = useState(false);
  const keys = useLineupKeys(projectId, () => setKeysShown((shown) => !shown));
  useScreenKeys(keys);
  const drop: DropZoneProps['onDrop'] = ({ items }) => {
    void droppedFiles(items).then((incoming) => manager.add(projectId, incoming));
  };
  const failure = projectError ?? error;
  return (
    <Screen>
      <TopBar
        projectName={project?.name}
        places={[{ name: 'Lineup', to: `/projects/${projectId}`, count: lineup?.total, current: true }]}
      >
        {project && (
          <DialogTrigger>
            <Button kind="quiet" aria-label="Project"><Settings size={16} aria-hidden="true" /></Button>
            <ProjectDialog project={project} />
          </DialogTrigger>
        )}
        <Button kind="quiet" aria-label="Keys" shortcut="?" onPress={() => setKeysShown(true)}>Keys</Button>
        <AddClips projectId={projectId} />
      </TopBar>
      <Dropping onDrop={drop} aria-label="Drop clips here" getDropOperation={() => 'copy'}>
        <Body>
          {failure && <Notice tone="fix">{sentenceOf(failure)}</Notice>}
          {lineup && lineup.total > 0 && <Head><div><h1>{lineup.head.headline}</h1><Soft>{lineup.head.detail}</Soft></div><SearchBox /><ColumnsMenu /></Head>}
          <NewsBar projectId={projectId} />
          <UploadList projectId={projectId} manager={manager} />
          {lineup && lineup.total > 0 && (
            <>
              <Questions projectId={projectId} lineup={lineup} />
              <FilterBar lineup={lineup} />
              {lineup.shown > 0 ? <LineupTable projectId={projectId} lineup={lineup} /> : <Nothing><Soft>No clip is like that. Show all of them, or search for something else.</Soft></Nothing>}
              <ChoiceBar projectId={projectId} lineup={lineup} />
            </>
          )}
          {isLoading && <Soft role="status">Fetching the clips ...</Soft>}
          {lineup?.total === 0 && <EmptyProject projectId={projectId} />}
        </Body>
      </Dropping>
      <PointAgain />
      <KeysOverlay keys={keys} isOpen={keysShown} onClose={() => setKeysShown(false)} />
    </Screen>
  );
}

/** Three ways in: files, a folder, or without copying. */
function AddClips({ projectId }: { projectId: string }) {
  const manager = useUploadManager();
  const [linking, setLinking] = useState(false);
  return (
    <>
      <FileTrigger allowsMultiple onSelect={(files) => files && manager.add(projectId, chosenFiles(files))}>
        <Button><Plus size={16} aria-hidden="true" />Add clips</Button>
      </FileTrigger>
      <MenuTrigger>
        <Button aria-label="Other ways to add clips"><FolderSearch size={16} aria-hidden="true" /></Button>
        <Choices placement="bottom end">
          <Menu aria-label="Other ways to add clips" onAction={(key) => (key === 'link' ? setLinking(true) : chooseFolder((files) => manager.add(projectId, chosenFiles(files))))}>
            <MenuItem id="folder">A whole folder ...</MenuItem>
            <MenuItem id="link">Without copying, from the server’s folders ...</MenuItem>
          </Menu>
        </Choices>
      </MenuTrigger>
      <LinkClips projectId={projectId} isOpen={linking} onOpenChange={setLinking} />
    </>
  );
}

function chooseFolder(onFiles: (files: FileList) => void): void {
  const input = document.createElement('input');
  input.type = 'file';
  input.webkitdirectory = true;
  input.onchange = () => { if (input.files) onFiles(input.files); };
  input.click();
}

function LinkClips({ projectId, isOpen, onOpenChange }: { projectId: string; isOpen: boolean; onOpenChange: (open: boolean) => void }) {
  const [link] = useLinkMutation();
  const take = async (folder: number, paths: string[]): Promise<string | null> => {
    const answer = await link({ projectId, folder, paths });
    if ('error' in answer && answer.error) return sentenceOf(answer.error);
    return answer.data?.clips === 0 ? 'All of that is in the project already.' : null;
  };
  return <LinkDialog title="Bring in without copying" choose="many" onChosen={take} isOpen={isOpen} onOpenChange={onOpenChange} />;
}

/** Finds the file of a linked clip that has moved. */
function PointAgain() {
  const dispatch = useAppDispatch();
  const pointing = useAppSelector((state) => state.lineup.pointing);
  const [point] = usePointAgainMutation();
  const take = async (folder: number, [path]: string[]): Promise<string | null> => {
    const answer = await point({ clipId: pointing!.clipId, folder, path });
    return 'error' in answer && answer.error ? sentenceOf(answer.error) : null;
  };
  return (
    <LinkDialog
      title={`Where is ${pointing?.name ?? 'it'} now?`} choose="file" onChosen={take} isOpen={pointing !== null}
      onOpenChange={(open) => { if (!open) dispatch(pointingBegan(null)); }}
    />
  );
}

function EmptyProject({ projectId }: { projectId: string }) {
  const manager = useUploadManager();
  const [linking, setLinking] = useState(false);
  return (
    <Empty>
      <h1>Drop your clips here.</h1>
      <Soft>Files or whole folders: WAV, or anything with sound in it, MP4, MOV, MXF, FLAC, MP3 and more. Each is measured as soon as it is in, and your originals are only read.</Soft>
      <div>
        <FileTrigger allowsMultiple onSelect={(files) => files && manager.add(projectId, chosenFiles(files))}><Button kind="main"><Plus size={16} aria-hidden="true" />Choose clips</Button></FileTrigger>
        <Button onPress={() => setLinking(true)}><FolderSearch size={16} aria-hidden="true" />Bring in without copying</Button>
      </div>
      <LinkClips projectId={projectId} isOpen={linking} onOpenChange={setLinking} />
    </Empty>
  );
}

const Head = styled.div`display: flex; gap: 10px; align-items: flex-start; > div:first-child { flex: 1; margin-right: 14px; } > button { min-height: 32px; padding: 4px 12px; }`;
const Dropping = styled(DropZone)`
  flex: 1; min-height: 0; display: flex; flex-direction: column;
  &[data-drop-target] { outline: 3px dashed var(--left); outline-offset: -10px; background: var(--chosen); }
`;
const Nothing = styled(Sheet)`flex: 1; display: grid; place-items: center;`;
const Empty = styled(Sheet)`
  flex: 1; display: flex; flex-direction: column; align-items: center; justify-content: center; gap: 14px; text-align: center;
  border-style: dashed; border-width: 2px; p { max-width: 52ch; } > div { display: flex; gap: 10px; }
`;
