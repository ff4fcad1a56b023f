import { Pause, Play, RotateCw, X } from 'lucide-react';
import { memo } from 'react';
import styled from 'styled-components';
import { inBackground } from '../../parts/inBackground.ts';
import { useAppSelector } from '../../state/store.ts';
import { Button } from '../../parts/Button.tsx';
import { ProgressLine } from '../../parts/ProgressLine.tsx';
import { sayBytes } from '@pocket-twin/core/pcm/sayBytes.ts';
import { Sheet } from '../../parts/Screen.tsx';
import { isSmall, type UploadManager } from '../../state/uploadManager.ts';
import type { InterruptedUpload, UploadEntry } from '../../state/uploadsSlice.ts';
import { scrolls } from '../../parts/scrolls.ts';

const MOST_LISTED = 6;

interface UploadListProps {
  projectId: string;
  manager: UploadManager;
}

/** Files on their way up, all together and one by one, with what can be done about each. */
export function UploadList({ projectId, manager }: UploadListProps) {
  const { entries, interrupted, arrived } = useAppSelector((state) => state.uploads);
  const mine = entries.filter((upload) => upload.projectId === projectId);
  const waitingForFile = interrupted.filter(
    (upload) =>
      upload.projectId === projectId && !mine.some(({ name, bytes }) => name === upload.name && bytes === upload.bytes),
  );
  if (mine.length === 0 && waitingForFile.length === 0) return null;
  const shown = listed(mine);
  return (
    <Box aria-label="Coming in">
      {mine.length > 0 && <Together uploads={mine} arrived={arrived} manager={manager} />}
      <ul>
        {waitingForFile.map((upload) => (
          <InterruptedItem key={upload.key} upload={upload} manager={manager} />
        ))}
        {shown.map((upload) => (
          <UploadItem key={upload.id} upload={upload} manager={manager} />
        ))}
        {mine.length > shown.length && shown.length > 0 && <More>and {mine.length - shown.length} more</More>}
      </ul>
    </Box>
  );
}

/** What went wrong or is moving comes first; hundreds that wait, and small ones that are here before they are read, need no line each. */
function listed(uploads: UploadEntry[]): UploadEntry[] {
  if (uploads.length <= MOST_LISTED) return uploads;
  const own = uploads.filter(({ state, bytes }) => state === 'failed' || state === 'paused' || !isSmall(bytes));
  const waits = ({ state }: UploadEntry): boolean => state === 'waiting';
  return [...own.filter((upload) => !waits(upload)), ...own.filter(waits)].slice(0, MOST_LISTED);
}

function Together({
  uploads,
  arrived,
  manager,
}: {
  uploads: UploadEntry[];
  arrived: { files: number; bytes: number };
  manager: UploadManager;
}) {
  const sum = (count: (upload: UploadEntry) => number): number =>
    uploads.reduce((total, upload) => total + count(upload), 0);
  const bytes = arrived.bytes + sum((upload) => upload.bytes);
  const moving = uploads.filter(({ state }) => state === 'sending' || state === 'waiting');
  const paused = uploads.filter(({ state }) => state === 'paused');
  const files = uploads.length === 1 ? '1 file' : `${uploads.length} files`;
  const stuck = moving.length + paused.length === 0;
  return (
    <Item as="div">
      <strong>
        {files} {stuck ? 'did not come in' : 'coming in'}
      </strong>
      {stuck ? (
        <span />
      ) : (
        <ProgressLine
          label="All files"
          share={bytes > 0 ? (arrived.bytes + sum((upload) => upload.sentBytes)) / bytes : undefined}
        />
      )}
      <span className="numeric">{!stuck && sayBytes(bytes)}</span>
      {stuck ? (
        <span />
      ) : moving.length > 0 ? (
        <Button
          kind="quiet"
          aria-label="Pause all"
          onPress={() => moving.forEach(({ id }) => inBackground(manager.pause(id)))}
        >
          <Pause size={15} aria-hidden="true" />
        </Button>
      ) : (
        <Button
          kind="quiet"
          aria-label="Go on with all"
          isDisabled={paused.length === 0}
          onPress={() => paused.forEach(({ id }) => manager.resume(id))}
        >
          <Play size={15} aria-hidden="true" />
        </Button>
      )}
      <Button
        kind="quiet"
        aria-label="Cancel all"
        onPress={() => uploads.forEach(({ id }) => inBackground(manager.cancel(id)))}
      >
        <X size={15} aria-hidden="true" />
      </Button>
    </Item>
  );
}

const UploadItem = memo(function UploadItem({ upload, manager }: { upload: UploadEntry; manager: UploadManager }) {
  const { id, name, bytes, sentBytes, state, error } = upload;
  return (
    <Item>
      <span title={name}>{name}</span>
      {state === 'failed' ? (
        <Complaint role="alert">{error}</Complaint>
      ) : (
        <ProgressLine label={`Bringing in ${name}`} share={bytes > 0 ? sentBytes / bytes : undefined} />
      )}
      <span className="numeric">
        {state === 'paused' ? 'paused' : state === 'waiting' ? 'waiting' : sayBytes(bytes)}
      </span>
      {state === 'failed' && (
        <Button kind="quiet" aria-label={`Try ${name} again`} onPress={() => manager.resume(id)}>
          <RotateCw size={15} aria-hidden="true" />
        </Button>
      )}
      {state === 'paused' && (
        <Button kind="quiet" aria-label={`Go on with ${name}`} onPress={() => manager.resume(id)}>
          <Play size={15} aria-hidden="true" />
        </Button>
      )}
      {(state === 'sending' || state === 'waiting') && (
        <Button kind="quiet" aria-label={`Pause ${name}`} onPress={() => inBackground(manager.pause(id))}>
          <Pause size={15} aria-hidden="true" />
        </Button>
      )}
      <Button kind="quiet" aria-label={`Cancel ${name}`} onPress={() => inBackground(manager.cancel(id))}>
        <X size={15} aria-hidden="true" />
      </Button>
    </Item>
  );
});

function InterruptedItem({ upload, manager }: { upload: InterruptedUpload; manager: UploadManager }) {
  return (
    <Item>
      <span title={upload.name}>{upload.name}</span>
      <Waiting>Was interrupted. Choose or drop the same file again: it goes on where it stopped.</Waiting>
      <span className="numeric">{sayBytes(upload.bytes)}</span>
      <span />
      <Button
        kind="quiet"
        aria-label={`Forget ${upload.name}`}
        onPress={() => inBackground(manager.forget(upload.key))}
      >
        <X size={15} aria-hidden="true" />
      </Button>
    </Item>
  );
}

const Box = styled(Sheet)`max-height: 190px; ${scrolls} padding: 4px 0; flex: none;`;
const Item = styled.li`
  display: grid; grid-template-columns: minmax(160px, 280px) 1fr 76px 44px 44px; gap: 10px; align-items: center; padding: 0 8px 0 18px; min-height: 32px;
  strong { font-weight: 600; }
  > span { overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
  .numeric { font-size: 12px; color: var(--soft); }
  button { min-height: 28px; }
`;
const More = styled.li`padding: 4px 18px; color: var(--soft);`;
const Complaint = styled.p`color: var(--fix);`;
const Waiting = styled.p`color: var(--look); font-size: 13px;`;
