import { useState } from 'react';
import styled from 'styled-components';
import type { PairProposal } from '@pocket-twin/core/schema/lineup.ts';
import { inBackground } from '../../parts/inBackground.ts';
import type { Lineup } from '../../state/useLineup.ts';
import { useAppDispatch, useAppSelector } from '../../state/store.ts';
import { useAnswerPairMutation, useChangeProjectMutation } from '../../state/api.ts';
import { Button } from '../../parts/Button.tsx';
import { Pick } from '../../parts/Field.tsx';
import { FRAME_RATES } from '@pocket-twin/core/time/frameRates.ts';
import { JoinDialog } from './JoinDialog.tsx';
import { questionPutOff } from '../../state/lineupSlice.ts';

/** What only a person can answer: one question at a time, gone once it is answered. */
export function Questions({ projectId, lineup }: { projectId: string; lineup: Lineup }) {
  const dispatch = useAppDispatch();
  const putOff = useAppSelector((state) => state.lineup.putOff);
  const pairs = lineup.pairs.filter(({ state, leftId }) => state === 'proposed' && !putOff.includes(leftId));
  const withoutFrameRate = lineup.all.filter(({ wantsFrameRate }) => wantsFrameRate).length;
  const asksFrameRate = withoutFrameRate > 0 && !putOff.includes(projectId);
  const count = pairs.length + (asksFrameRate ? 1 : 0);
  if (count === 0) return null;
  return (
    <Line aria-label="Question">
      {asksFrameRate ? (
        <FrameRateQuestion projectId={projectId} clips={withoutFrameRate} />
      ) : (
        <PairQuestion projectId={projectId} pair={pairs[0]} />
      )}
      <Button kind="quiet" onPress={() => dispatch(questionPutOff(asksFrameRate ? projectId : pairs[0].leftId))}>
        Later
      </Button>
      {count > 1 && <span>1 of {count} questions</span>}
    </Line>
  );
}

function FrameRateQuestion({ projectId, clips }: { projectId: string; clips: number }) {
  const [change] = useChangeProjectMutation();
  const [id, setId] = useState('25');
  return (
    <>
      <p>
        {clips === 1
          ? '1 clip starts at a timecode but does not say its frame rate.'
          : `${clips} clips start at a timecode but do not say their frame rate.`}{' '}
        How many frames a second does this project have?
      </p>
      <Pick
        label="Frame rate"
        value={id}
        onChange={setId}
        options={FRAME_RATES.map(({ id: value, label }) => ({ value, label }))}
      />
      <Button
        onPress={() => inBackground(change({ projectId, frameRate: FRAME_RATES.find((one) => one.id === id)!.rate }))}
      >
        Keep
      </Button>
    </>
  );
}

function PairQuestion({
  projectId,
  pair: { leftId, rightId, left, right },
}: {
  projectId: string;
  pair: PairProposal;
}) {
  const [answer] = useAnswerPairMutation();
  const [joining, setJoining] = useState(false);
  return (
    <>
      <p>
        <b>{left}</b> and <b>{right}</b> look like the left and the right of one recording.
      </p>
      <Button onPress={() => setJoining(true)}>Join them ...</Button>
      <JoinDialog
        projectId={projectId}
        clips={[
          { id: leftId, name: left },
          { id: rightId, name: right },
        ]}
        isOpen={joining}
        onOpenChange={setJoining}
      />
      <Button onPress={() => inBackground(answer({ projectId, leftId, rightId, accept: true }))}>
        They belong together
      </Button>
      <Button kind="quiet" onPress={() => inBackground(answer({ projectId, leftId, rightId, accept: false }))}>
        They don’t
      </Button>
    </>
  );
}

const Line = styled.section`
  display: flex; flex-wrap: wrap; align-items: center; gap: 4px 10px; padding: 6px 8px 6px 16px; border-radius: 12px; background: var(--look-wash); flex: none;
  p { flex: 1 1 260px; }
  > span { order: -1; color: var(--look); font-weight: 600; font-size: 12.5px; white-space: nowrap; }
  button { min-height: 30px; padding: 3px 11px; }
  .react-aria-Label { position: absolute; width: 1px; height: 1px; overflow: hidden; clip-path: inset(50%); }
`;
