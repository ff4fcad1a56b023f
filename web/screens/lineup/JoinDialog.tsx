import { useEffect, useState } from 'react';
import styled from 'styled-components';
import { sayNumber } from '@pocket-twin/core/signal/sayDecibels.ts';
import { inBackground } from '../../parts/inBackground.ts';
import { Button } from '../../parts/Button.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Panel, PanelButtons } from '../../parts/Panel.tsx';
import { Soft } from '../../parts/Screen.tsx';
import { sentenceOf, useForecastJoinMutation, useJoinClipsMutation } from '../../state/api.ts';
import { newsCame } from '../../state/lineupSlice.ts';
import { useAppDispatch } from '../../state/store.ts';

interface JoinDialogProps {
  projectId: string;
  /** In the order in which their channels will stand. */
  clips: { id: string; name: string }[];
  isOpen: boolean;
  onOpenChange: (open: boolean) => void;
}

/** Several files of one recording become one clip: how they lie to each other is measured first. */
export function JoinDialog({ projectId, clips, isOpen, onOpenChange }: JoinDialogProps) {
  return (
    <Panel wide title={`Join ${clips.length} clips into one`} isOpen={isOpen} onOpenChange={onOpenChange}>
      {(close) => <JoinPart projectId={projectId} clips={clips} close={close} />}
    </Panel>
  );
}

function JoinPart({ projectId, clips, close }: Pick<JoinDialogProps, 'projectId' | 'clips'> & { close: () => void }) {
  const dispatch = useAppDispatch();
  const [measure, { data: joining, error }] = useForecastJoinMutation();
  const [join, { isLoading, error: joinError }] = useJoinClipsMutation();
  const [ids] = useState(() => clips.map(({ id }) => id));
  useEffect(() => {
    inBackground(measure({ projectId, clipIds: ids, lineUp: false }));
  }, [ids, measure, projectId]);
  const make = async (lineUp: boolean): Promise<void> => {
    const { data } = await join({ projectId, clipIds: ids, lineUp });
    if (!data) return;
    dispatch(
      newsCame({
        kind: 'done',
        projectId,
        sentence: `${data.name} is joined from ${clips.map(({ name }) => name).join(' and ')}, which stay as they are.`,
        wayBack: null,
      }),
    );
    close();
  };
  const trouble = error ?? joinError;
  const apart = joining?.offsetsSamples.some((offset) => offset !== null && Math.round(offset) !== 0) ?? false;
  return (
    <>
      {trouble !== undefined && <Notice tone="fix">{sentenceOf(trouble)}</Notice>}
      {!joining && trouble === undefined && <Soft role="status">Listening to how they lie to each other ...</Soft>}
      {joining && (
        <Found>
          {clips.map(({ id, name }, i) => (
            <li key={id}>
              <strong>{name}</strong>
              <span>{i === 0 ? 'the first' : offsetInWords(joining.offsetsSamples[i])}</span>
            </li>
          ))}
        </Found>
      )}
      {joining?.warnings.map(({ message }) => (
        <Notice key={message} tone="look">
          {message}
        </Notice>
      ))}
      <PanelButtons>
        <Button onPress={close}>Cancel</Button>
        <Button isDisabled={!joining || isLoading} onPress={() => inBackground(make(false))}>
          {apart ? 'Join as they lie' : 'Join'}
        </Button>
        {apart && (
          <Button kind="main" isDisabled={isLoading} onPress={() => inBackground(make(true))}>
            {isLoading ? 'Joining ...' : 'Line up and join'}
          </Button>
        )}
      </PanelButtons>
    </>
  );
}

function offsetInWords(offset: number | null): string {
  if (offset === null) return 'nothing in common with the first';
  if (offset === 0) return 'in step with the first';
  const samples = sayNumber(Math.abs(offset), Number.isInteger(offset) ? 0 : 2);
  return `its sound ${samples} samples ${offset > 0 ? 'later' : 'earlier'}`;
}

const Found = styled.ul`
  display: flex; flex-direction: column;
  li { display: flex; justify-content: space-between; gap: 14px; padding: 7px 0; border-bottom: 1px solid var(--line); }
  span { color: var(--soft); }
`;
