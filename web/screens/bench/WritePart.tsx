import { Download } from 'lucide-react';
import { Link } from 'react-aria-components';
import styled from 'styled-components';
import { repairName } from '@pocket-twin/core/repair/plan/describe.ts';
import { exactWords } from '@pocket-twin/core/repair/plan/exactWords.ts';
import { exactPlan } from '@pocket-twin/core/repair/plan/exactPlan.ts';
import { sameRepair } from '@pocket-twin/core/repair/plan/compare.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { Receipt, WrittenFile } from '@pocket-twin/core/schema/receipt.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import type { Writing } from '@pocket-twin/core/schema/writing.ts';
import { useAppSelector } from '../../state/store.ts';
import { Notice } from '../../parts/Notice.tsx';
import { ProgressLine } from '../../parts/ProgressLine.tsx';
import { sayBytes } from '@pocket-twin/core/pcm/sayBytes.ts';

interface WritePartProps {
  clip: Clip;
  /** The newest of the clip; undefined where there is none. */
  writing: Writing | undefined;
  /** What is chosen now. */
  repair: Repair;
  isKept: boolean;
}

/** The newest writing of a clip: how far it is, or its receipt with the files. */
export function WritePart({ clip, writing, repair, isKept }: WritePartProps) {
  const progress = useAppSelector((state) => (writing ? state.progress[writing.id] : undefined));
  if (!writing) return null;
  if (writing.state === 'failed') return <Notice tone="fix">{writing.error}</Notice>;
  if (writing.state === 'done' && writing.receipt) {
    const isCurrent = isKept && sameRepair(writing.receipt.repair, repair);
    return (
      <ReceiptCard
        writing={writing}
        receipt={writing.receipt}
        isCurrent={isCurrent}
        wasWrong={clip.inspection!.findings.some(({ severity }) => severity === 'fix')}
      />
    );
  }
  return (
    <Card $tone="fine">
      <strong>{progress?.stage === 'proving' ? 'Reading it back and checking ...' : 'Writing ...'}</strong>
      <ProgressLine label="Writing" share={progress?.share} />
    </Card>
  );
}

/** Green is for what was put right; what was written as it is, or with something else than is chosen now, is not. */
function ReceiptCard({
  writing,
  receipt,
  isCurrent,
  wasWrong,
}: {
  writing: Writing;
  receipt: Receipt;
  isCurrent: boolean;
  wasWrong: boolean;
}) {
  const asItIs = receipt.repair.action === 'leave';
  const name = repairName(receipt.repair);
  const tone = !isCurrent || (asItIs && wasWrong) ? 'look' : 'fine';
  return (
    <Card aria-label="Receipt" $tone={tone}>
      <strong>
        {!isCurrent
          ? `Written earlier: “${name}”, not what is chosen now.`
          : asItIs
            ? wasWrong
              ? 'Written as it is: nothing was repaired.'
              : 'A copy, as it is.'
            : `Written: ${name}.`}
      </strong>
      {receipt.files.map((file, index) => (
        <FileEntry key={file.name}>
          <Get
            href={`/api/writings/${writing.id}/files/${index}`}
            download={file.name}
            aria-label={`Download ${file.name}`}
            $tone={tone}
          >
            <Download size={15} aria-hidden="true" />
            <span>{file.name}</span>
          </Get>
          <p>
            {proofWords(file, receipt)} {sayBytes(file.bytes)}.
          </p>
        </FileEntry>
      ))}
    </Card>
  );
}

function proofWords(file: WrittenFile, { repair, before }: Receipt): string {
  const count = (value: number): string => value.toLocaleString('en').replace(/,/g, '\u202f');
  const feeds = file.exact ? (exactPlan(repair)?.flat() ?? []) : [];
  const how = [
    feeds.some(({ turnedOver }) => turnedOver) && 'turned over',
    feeds.some(({ shiftFrames }) => shiftFrames !== 0) && 'moved',
  ]
    .filter(Boolean)
    .join(' and ');
  const proof = file.exact
    ? `Read back: all ${count(file.proof.comparedFrames)} frames are the source’s own samples${how && `, ${how}`}.`
    : file.exactOutside
      ? `Read back: all ${count(file.proof.comparedFrames)} frames are right, ${exactWords(file, before.format.sampleRate)}.`
      : `Read back: all ${count(file.proof.comparedFrames)} frames are as calculated.`;
  return file.heldSamples > 0
    ? `${proof} ${count(file.heldSamples)} ${file.heldSamples === 1 ? 'sample lay' : 'samples lay'} beyond full scale and ${file.heldSamples === 1 ? 'is' : 'are'} held there.`
    : proof;
}

const Card = styled.section<{ $tone: 'fine' | 'look' }>`
  display: flex; flex-direction: column; gap: 8px; padding: 10px 12px; border-radius: 10px; background: ${({ $tone }) => `var(--${$tone}-wash)`}; font-size: 12.5px;
  strong { color: var(--ink); }
`;
const FileEntry = styled.div`p { color: var(--ink); }`;
const Get = styled(Link)<{ $tone: 'fine' | 'look' }>`
  display: flex; gap: 7px; align-items: center; font-weight: 600; font-size: 14px; color: ${({ $tone }) => `var(--${$tone})`}; text-underline-offset: 3px;
  span { overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
`;
