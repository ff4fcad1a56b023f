import { useState } from 'react';
import styled from 'styled-components';
import type { Lineup, PairProposal } from '@pocket-twin/core/schema/lineup.ts';
import { useAnswerPairMutation, useChangeProjectMutation } from '../../api/api.ts';
import { Button } from '../../parts/Button.tsx';
import { Pick } from '../../parts/Field.tsx';
import { FRAME_RATES } from '../../parts/frameRates.ts';

/** What only a person can answer, one line each, gone once it is answered. */
export function Questions({ projectId, lineup }: { projectId: string; lineup: Lineup }) {
  const pair = lineup.pairs.find(({ state }) => state === 'proposed');
  if (!pair && lineup.withoutFrameRate === 0) return null;
  return (
    <List aria-label="Questions">
      {lineup.withoutFrameRate > 0 && <FrameRateQuestion projectId={projectId} clips={lineup.withoutFrameRate} />}
      {pair && <PairQuestion projectId={projectId} pair={pair} more={lineup.pairs.filter(({ state }) => state === 'proposed').length - 1} />}
    </List>
  );
}

function FrameRateQuestion({ projectId, clips }: { projectId: string; clips: number }) {
  const [change] = useChangeProjectMutation();
  const [id, setId] = useState('25');
  return (
    <li>
      <p>{clips === 1 ? '1 clip starts at a timecode but does not say its frame rate.' : `${clips} clips start at a timecode but do not say their frame rate.`} How many frames a second does this project have?</p>
      <Pick label="Frame rate" value={id} onChange={setId} options={FRAME_RATES.map(({ id: value, label }) => ({ value, label }))} />
      <Button onPress={() => void change({ projectId, frameRate: FRAME_RATES.find((one) => one.id === id)!.rate })}>Keep</Button>
    </li>
  );
}

function PairQuestion({ projectId, pair: { leftId, rightId, left, right }, more }: { projectId: string; pair: PairProposal; more: number }) {
  const [answer] = useAnswerPairMutation();
  return (
    <li>
      <p><b>{left}</b> and <b>{right}</b> look like the left and the right of one recording.{more > 0 && ` ${more} more such ${more === 1 ? 'pair' : 'pairs'}.`}</p>
      <Button onPress={() => void answer({ projectId, leftId, rightId, accept: true })}>They belong together</Button>
      <Button kind="quiet" onPress={() => void answer({ projectId, leftId, rightId, accept: false })}>They don’t</Button>
    </li>
  );
}

const List = styled.ul`
  display: flex; flex-direction: column; gap: 6px; flex: none;
  li { display: flex; align-items: center; gap: 10px; padding: 6px 8px 6px 16px; border-radius: 12px; background: var(--look-wash); }
  p { flex: 1; }
  button { min-height: 30px; padding: 3px 11px; }
  .react-aria-Label { position: absolute; width: 1px; height: 1px; overflow: hidden; clip-path: inset(50%); }
`;
