import { Download, FileText, Pause, Play, RotateCw, ShieldCheck, X } from 'lucide-react';
import { useEffect, useMemo } from 'react';
import { Link } from 'react-aria-components';
import { useNavigate } from 'react-router';
import styled from 'styled-components';
import type { HandoffDetail, HandoffStep } from '@pocket-twin/core/schema/handoff.ts';
import { inBackground } from '../../parts/inBackground.ts';
import { sentenceOf, useForgetHandoffMutation, useVerifyHandoffMutation } from '../../state/api.ts';
import { Button } from '../../parts/Button.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { ProgressLine } from '../../parts/ProgressLine.tsx';
import { Soft } from '../../parts/Screen.tsx';
import { Columns, Left } from './columns.ts';
import { FileList } from './FileList.tsx';
import { editOutcome, handoffHeadline } from './handoffWords.ts';
import { useHandoffProgress } from './useHandoffProgress.ts';

interface HandoffViewProps {
  handoff: HandoffDetail;
  step: (step: HandoffStep['step']) => void;
  onMain: (main: { run: (() => void) | null }) => void;
}

/** A handoff that runs or has run: one line overall, one a file; then the receipts. */
export function HandoffView({ handoff, step, onMain }: HandoffViewProps) {
  const { state, files, folder, projectId } = handoff;
  const navigate = useNavigate();
  const { share, leftWords } = useHandoffProgress(handoff);
  const [verify, { data: verified, error: verifyError, isLoading: isVerifying }] = useVerifyHandoffMutation();
  const [forget] = useForgetHandoffMutation();
  const isOver = state === 'done' || state === 'cancelled';
  const again = files.failed + files.cancelled;
  const main = useMemo((): { label: string; run: () => void } | null => {
    if (state === 'running') return { label: 'Pause', run: () => step('pause') };
    if (state === 'paused' || state === 'held') return { label: 'Go on', run: () => step('go-on') };
    if (isOver && again > 0)
      return {
        label: again === 1 ? 'Retry the failed clip' : `Retry the ${again} failed clips`,
        run: () => step('try-failed'),
      };
    return null;
  }, [again, isOver, state, step]);
  useEffect(() => onMain({ run: main?.run ?? null }), [main, onMain]);
  return (
    <>
      <Head>
        <h1 tabIndex={-1}>{handoffHeadline(handoff)}</h1>
        <Soft>
          {handoff.wanted.place.kind === 'download' ? `The archive “${handoff.name}.zip”.` : <code>{folder}</code>}
        </Soft>
        {handoff.edit && <Edit edit={handoff.edit} />}
        {handoff.said !== null && <Notice tone={state === 'held' ? 'look' : 'fix'}>{handoff.said}</Notice>}
      </Head>
      <Columns>
        <Left>
          <FileList handoff={handoff} />
        </Left>
        <Side aria-label="This handoff">
          <div role="status">
            {!isOver && (
              <>
                <ProgressLine label="The whole handoff" share={share} />
                <Soft>{leftWords}</Soft>
              </>
            )}
          </div>
          {main && (
            <Button kind="main" wide shortcut="main" onPress={main.run}>
              {state === 'running' ? (
                <Pause size={15} aria-hidden="true" />
              ) : isOver ? (
                <RotateCw size={15} aria-hidden="true" />
              ) : (
                <Play size={15} aria-hidden="true" />
              )}
              {main.label}
            </Button>
          )}
          {!isOver && state !== 'finishing' && (
            <Button wide onPress={() => step('cancel')}>
              <X size={15} aria-hidden="true" />
              Cancel; what is finished stays
            </Button>
          )}
          {files.done > 0 && isOver && (
            <Way href={`/api/handoffs/${handoff.id}/receipt`} target="_blank">
              <FileText size={15} aria-hidden="true" />
              Receipt, to read and print
            </Way>
          )}
          {files.done > 0 && (
            <Way href={`/api/handoffs/${handoff.id}/archive`} download={`${handoff.name}.zip`}>
              <Download size={15} aria-hidden="true" />
              Download as one archive
            </Way>
          )}
          {isOver && files.done > 0 && (
            <Button wide isDisabled={isVerifying} onPress={() => inBackground(verify(handoff.id))}>
              <ShieldCheck size={15} aria-hidden="true" />
              {isVerifying ? 'Verifying ...' : 'Verify files'}
            </Button>
          )}
          {verifyError !== undefined && <Notice tone="fix">{sentenceOf(verifyError)}</Notice>}
          {verified && (
            <Notice tone={verified.changed.length + verified.missing.length === 0 ? 'fine' : 'fix'}>
              {verified.changed.length + verified.missing.length === 0
                ? `All ${verified.files} files are as they were handed off.`
                : [
                    verified.changed.length > 0 && `Changed: ${verified.changed.join(', ')}.`,
                    verified.missing.length > 0 && `Missing: ${verified.missing.join(', ')}.`,
                  ]
                    .filter(Boolean)
                    .join(' ')}
              {verified.unnamed.length > 0 && ` Not part of any handoff there: ${verified.unnamed.join(', ')}.`}
            </Notice>
          )}
          {isOver && (
            <Button
              kind="quiet"
              wide
              onPress={() =>
                inBackground(
                  forget(handoff.id).then((answer) => {
                    if (answer.error === undefined) inBackground(navigate(`/projects/${projectId}/handoff`));
                  }),
                )
              }
            >
              {handoff.wanted.place.kind === 'download'
                ? 'Remove from list, and delete the archive'
                : 'Remove from list (files stay)'}
            </Button>
          )}
        </Side>
      </Columns>
    </>
  );
}

function Edit({ edit }: { edit: NonNullable<HandoffDetail['edit']> }) {
  const { tone, sentences } = editOutcome(edit);
  return <Notice tone={tone}>{sentences.join(' ')}</Notice>;
}

const Head = styled.header`display: flex; flex-direction: column; gap: 4px; flex: none; h1 { font-size: 24px; outline: none; } code { font-size: 12.5px; overflow-wrap: anywhere; }`;
const Side = styled.section`
  align-self: start; display: flex; flex-direction: column; gap: 10px; padding: 16px; background: var(--sheet); border: 1px solid var(--line); border-radius: 12px;
  > div:empty { display: none; } p { font-size: 13px; }
`;
const Way = styled(Link)`
  display: inline-flex; align-items: center; justify-content: center; gap: 8px; min-height: 36px; padding: 6px 14px; border-radius: 9px; border: 1px solid var(--line);
  font-weight: 600; text-decoration: none; &[data-hovered] { border-color: var(--ink); }
`;
