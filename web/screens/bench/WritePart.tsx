import { Download } from 'lucide-react';
import { Link } from 'react-aria-components';
import styled from 'styled-components';
import { repairName } from '@pocket-twin/core/repair/describe.ts';
import { leaveAsItIs } from '@pocket-twin/core/repair/plans.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { WrittenFile } from '@pocket-twin/core/schema/receipt.ts';
import type { Writing } from '@pocket-twin/core/schema/writing.ts';
import { useListWritingsQuery } from '../../api/api.ts';
import { useAppSelector } from '../../app/store.ts';
import { Notice } from '../../parts/Notice.tsx';
import { ProgressLine } from '../../parts/ProgressLine.tsx';
import { sayBytes } from '../../parts/sayTime.ts';

/** The newest writing of a clip: how far it is, or its receipt with the files. */
export function WritePart({ clip }: { clip: Clip }) {
  const { data: writings } = useListWritingsQuery(clip.id);
  const newest = writings?.[0];
  const progress = useAppSelector((state) => (newest ? state.progress[newest.id] : undefined));
  if (!newest) return null;
  if (newest.state === 'failed') return <Notice tone="fix">{newest.error}</Notice>;
  if (newest.state === 'done' && newest.receipt) {
    const current = JSON.stringify(newest.receipt.repair) === JSON.stringify(clip.repair ?? leaveAsItIs(clip.inspection!.format.channels));
    return <ReceiptCard writing={newest} current={current} />;
  }
  return <Card><strong>{progress?.stage === 'proving' ? 'Reading it back and checking ...' : 'Writing ...'}</strong><ProgressLine label="Writing" share={progress?.share} /></Card>;
}

function ReceiptCard({ writing, current }: { writing: Writing; current: boolean }) {
  return (
    <Card aria-label="Receipt">
      {!current && <p>Written earlier with “{repairName(writing.receipt!.repair)}”, not with what is kept now.</p>}
      {writing.receipt!.files.map((file, index) => (
        <FileEntry key={file.name}>
          <Get href={`/api/writings/${writing.id}/files/${index}`} download={file.name} aria-label={`Download ${file.name}`}>
            <Download size={15} aria-hidden="true" /><span>{file.name}</span>
          </Get>
          <p>{proofWords(file)} {sayBytes(file.bytes)}.</p>
        </FileEntry>
      ))}
    </Card>
  );
}

function proofWords(file: WrittenFile): string {
  const compared = file.proof.comparedFrames.toLocaleString('en').replace(/,/g, '\u202f');
  return file.exact
    ? `Read back: all ${compared} frames are the source’s own samples.`
    : `Read back: all ${compared} frames are as calculated.`;
}

const Card = styled.section`
  display: flex; flex-direction: column; gap: 8px; padding: 10px 12px; border-radius: 10px; background: var(--fine-wash); font-size: 12.5px;
  strong { color: var(--ink); }
`;
const FileEntry = styled.div`p { color: var(--ink); }`;
const Get = styled(Link)`
  display: flex; gap: 7px; align-items: center; font-weight: 600; font-size: 14px; color: var(--fine); text-underline-offset: 3px;
  span { overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
`;
