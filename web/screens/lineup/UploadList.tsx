import { RotateCw, X } from 'lucide-react';
import styled from 'styled-components';
import { useAppSelector } from '../../app/store.ts';
import { Button } from '../../parts/Button.tsx';
import { ProgressLine } from '../../parts/ProgressLine.tsx';
import { sayBytes } from '../../parts/sayTime.ts';
import { Sheet } from '../../parts/Screen.tsx';
import type { UploadManager } from './uploadManager.ts';

/** Files on their way up, with what can be done about each. */
export function UploadList({ projectId, manager }: { projectId: string; manager: UploadManager }) {
  const uploads = useAppSelector((state) => state.uploads).filter((upload) => upload.projectId === projectId);
  if (uploads.length === 0) return null;
  return (
    <List aria-label="Coming in">
      {uploads.map((upload) => (
        <Item key={upload.id}>
          <strong title={upload.name}>{upload.name}</strong>
          {upload.state === 'failed'
            ? <Complaint role="alert">{upload.error}</Complaint>
            : <ProgressLine label={`Bringing in ${upload.name}`} share={upload.bytes > 0 ? upload.sentBytes / upload.bytes : undefined} />}
          <span className="numeric">{sayBytes(upload.bytes)}</span>
          {upload.state === 'failed' && (
            <Button kind="quiet" aria-label={`Try ${upload.name} again`} onPress={() => manager.retry(upload.id)}><RotateCw size={15} aria-hidden="true" /></Button>
          )}
          <Button kind="quiet" aria-label={`Cancel ${upload.name}`} onPress={() => void manager.cancel(upload.id)}><X size={15} aria-hidden="true" /></Button>
        </Item>
      ))}
    </List>
  );
}

const List = styled(Sheet).attrs({ as: 'ul' })`max-height: 200px; overflow: auto; padding: 4px 0; flex: none;`;
const Item = styled.li`
  display: grid; grid-template-columns: minmax(160px, 280px) 1fr auto auto auto; gap: 12px; align-items: center; padding: 2px 8px 2px 18px;
  strong { font-weight: 600; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
  span { font-size: 12px; color: var(--soft); }
`;
const Complaint = styled.p`color: var(--fix);`;
