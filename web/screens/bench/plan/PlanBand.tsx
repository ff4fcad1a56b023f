import { Button } from 'react-aria-components';
import styled from 'styled-components';
import { sectionName } from '@pocket-twin/core/repair/plan/describe.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { framesIn, type FrameSpan } from '@pocket-twin/core/time/spans.ts';

interface PlanBandProps {
  repair: Repair;
  view: FrameSpan;
  /** The section that is worked on; null where none is. */
  chosen: number | null;
  onChoose: (section: number) => void;
}

/** What the plan does in each stretch of time, under what the clip is there. */
export function PlanBand({ repair, view, chosen, onChoose }: PlanBandProps) {
  if (!repair.sections) return null;
  const length = framesIn(view);
  return (
    <Band role="group" aria-label="Sections of the plan">
      {repair.sections.list.map(({ startFrame, endFrame, routes }, i) => {
        const from = Math.max(0, (startFrame - view.startFrame) / length);
        const to = Math.min(1, (endFrame - view.startFrame) / length);
        if (to <= from) return null;
        const name = sectionName(routes, repair.inputChannels);
        return (
          <Stretch
            key={startFrame}
            style={{ left: `${from * 100}%`, width: `${(to - from) * 100}%` }}
            onPress={() => onChoose(i)}
            aria-pressed={chosen === i}
            aria-label={`Section ${i + 1}: ${name}`}
            $busy={name !== 'as it is'}
            $chosen={chosen === i}
          >
            <span>{name}</span>
          </Stretch>
        );
      })}
    </Band>
  );
}

const Band = styled.div`position: relative; height: 24px; border: 1px solid var(--line); border-top: 0; overflow: hidden; background: var(--sheet);`;
const Stretch = styled(Button)<{ $busy: boolean; $chosen: boolean }>`
  position: absolute; top: 0; bottom: 0; padding: 0; border: 0; border-right: 1px solid var(--line); overflow: hidden; white-space: nowrap; text-align: left; cursor: pointer; container-type: inline-size;
  span { display: block; padding: 0 8px; overflow: hidden; text-overflow: ellipsis; }
  /* Of so short a section two letters would be left, in its neighbour's way: its name is where it is chosen. */
  @container (max-width: 48px) { span { visibility: hidden; } }
  font: ${({ $busy }) => ($busy ? 600 : 400)} 12px 'Instrument Sans Variable', sans-serif; color: ${({ $busy, $chosen }) => ($chosen ? 'var(--ink)' : $busy ? 'var(--mono)' : 'var(--soft)')};
  background: ${({ $chosen }) => ($chosen ? 'var(--chosen)' : 'transparent')};
  &[data-focus-visible] { outline-offset: -3px; }
`;
