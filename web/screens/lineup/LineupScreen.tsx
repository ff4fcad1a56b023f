import { Plus } from 'lucide-react';
import { DropZone, FileTrigger, isFileDropItem, type DropZoneProps } from 'react-aria-components';
import { useParams } from 'react-router';
import styled from 'styled-components';
import { sentenceOf, useGetProjectQuery, useListClipsQuery } from '../../api/api.ts';
import { Button } from '../../parts/Button.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Body, Screen, Sheet, Soft } from '../../parts/Screen.tsx';
import { TopBar } from '../../parts/TopBar.tsx';
import { useTitle } from '../../parts/useTitle.ts';
import { ClipTable } from './ClipTable.tsx';
import { lineupHead } from './lineupWords.ts';
import { UploadList } from './UploadList.tsx';
import { useUploadManager } from './uploadManager.ts';

/** All clips of a project: what every one carries, at a glance. */
export function LineupScreen() {
  const { projectId = '' } = useParams();
  const { data: project, error: projectError } = useGetProjectQuery(projectId);
  const { data: clips, error, isLoading } = useListClipsQuery(projectId);
  const manager = useUploadManager();
  useTitle(project?.name);
  const add = (files: File[]): void => manager.add(projectId, files);
  const drop: DropZoneProps['onDrop'] = ({ items }) => {
    void Promise.all(items.filter(isFileDropItem).map((item) => item.getFile())).then(add);
  };
  const addButton = (label: string, kind: 'plain' | 'main') => (
    <FileTrigger allowsMultiple onSelect={(files) => files && add([...files])}>
      <Button kind={kind}><Plus size={16} aria-hidden="true" />{label}</Button>
    </FileTrigger>
  );
  const head = clips && clips.length > 0 ? lineupHead(clips) : null;
  const failure = projectError ?? error;
  return (
    <Screen>
      <TopBar
        projectName={project?.name}
        places={[{ name: 'Lineup', to: `/projects/${projectId}`, count: clips?.length, current: true }]}
      >
        {addButton('Add clips', 'plain')}
      </TopBar>
      <Dropping onDrop={drop} aria-label="Drop clips here">
        <Body>
          {failure && <Notice tone="fix">{sentenceOf(failure)}</Notice>}
          {head && <div><h1>{head.headline}</h1><Soft>{head.detail}</Soft></div>}
          <UploadList projectId={projectId} manager={manager} />
          {head && <TableSheet><ClipTable clips={clips!} projectId={projectId} /></TableSheet>}
          {isLoading && <Soft role="status">Fetching the clips ...</Soft>}
          {clips?.length === 0 && (
            <Empty>
              <h1>Drop your clips here.</h1>
              <Soft>WAV, or anything with sound in it: MP4, MOV, FLAC, MP3 and more. Each is measured as soon as it is in, and your originals are only read.</Soft>
              {addButton('Choose clips', 'main')}
            </Empty>
          )}
        </Body>
      </Dropping>
    </Screen>
  );
}

const Dropping = styled(DropZone)`
  flex: 1; min-height: 0; display: flex; flex-direction: column;
  &[data-drop-target] { outline: 3px dashed var(--left); outline-offset: -10px; background: var(--chosen); }
`;
const TableSheet = styled(Sheet)`overflow: auto; flex: 0 1 auto; min-height: 120px;`;
const Empty = styled(Sheet)`
  flex: 1; display: flex; flex-direction: column; align-items: center; justify-content: center; gap: 14px; text-align: center;
  border-style: dashed; border-width: 2px; p { max-width: 46ch; }
`;
