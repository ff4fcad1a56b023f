import styled from 'styled-components';
import { planSentence } from '@pocket-twin/core/repair/plan/planSentence.ts';
import type { Heard } from '@pocket-twin/core/repair/run/listening.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { useAppSelector } from '../../state/store.ts';
import { soloWords } from './soloPlan.ts';

const HEARD: Record<Heard, string> = {
  both: 'both sides',
  left: 'the left side',
  right: 'the right side',
  sum: 'the sum',
  difference: 'the difference',
};

/** The plan in force and what is heard now, over the ribbon: said to who does not see it whenever one changes. */
export function HeardLine({ clip, repair }: { clip: Clip; repair: Repair }) {
  const { heard, when, soloed, probe } = useAppSelector((state) => state.bench);
  const solo = soloed?.clipId === clip.id ? soloed.channel : null;
  const isProbing = probe?.inputChannels === clip.inspection!.format.channels;
  const words =
    solo !== null
      ? soloWords(solo, clip.inspection!)
      : isProbing
        ? 'what matching the two leaves over'
        : `${HEARD[heard]}, ${when} the repair`;
  return (
    <Line>
      <Plan role="status" data-testid="plan">
        {planSentence(repair)}
      </Plan>
      <span role="status" data-testid="heard">
        Heard: {words}
      </span>
    </Line>
  );
}

const Line = styled.div`
  display: flex; flex-wrap: wrap; justify-content: space-between; gap: 2px 24px; align-items: baseline; font-size: 13px; color: var(--soft); flex: none; margin-bottom: -8px;
`;
const Plan = styled.p`font-weight: 600; font-size: 14px; color: var(--ink); min-width: 0;`;
