import { ChevronDown, ChevronRight } from 'lucide-react';
import { Button } from 'react-aria-components';
import styled from 'styled-components';
import { copiesAmong } from '@pocket-twin/core/diagnose/copies.ts';
import type { Inspection } from '@pocket-twin/core/schema/inspection.ts';
import { channelLabel } from '../../parts/channelWords.ts';
import { laneOf, pairLanes, type PairLane } from '../../ribbon/lanes.ts';
import { channelRemark } from './channelRemark.ts';

// Up to here all fit into sight.
const MOST_UNFOLDED = 4;

/** Pairs that show nothing worth the room: noise, silence, copies of what is drawn above. */
export function foldedAtFirst({ channels, duplicates }: Pick<Inspection, 'channels' | 'duplicates'>): number[] {
  if (channels.length <= MOST_UNFOLDED) return [];
  const copies = copiesAmong(duplicates, channels);
  return pairLanes(channels.length, []).flatMap((lane, pair) =>
    lane.channels.every((channel) => channels[channel - 1].content !== 'programme' || copies.has(channel))
      ? [pair]
      : [],
  );
}

interface LaneNamesProps {
  inspection: Inspection;
  folded: readonly number[];
  onFold: (folded: number[]) => void;
}

/** What each lane of the ribbon is; of more than two channels pairs can be folded away. */
export function LaneNames({ inspection, folded, onFold }: LaneNamesProps) {
  const { channels } = inspection.format;
  if (channels <= 2)
    return (
      <>
        <Name style={{ top: 8 }} $colour={channels === 1 ? 'mono' : 'left'}>
          {channelLabel(1, channels)}
        </Name>
        {channels === 2 && (
          <>
            <Name style={{ top: 'calc(84% - 24px)' }} $colour="right-text">
              {channelLabel(2, channels)}
            </Name>
            <Name style={{ top: 'calc(100% - 20px)' }} $colour="difference">
              What differs
            </Name>
          </>
        )}
      </>
    );
  return pairLanes(channels, folded).map((lane, pair) => (
    <div key={pair}>
      <FoldButton
        style={{ top: `calc(${lane.top * 100}% + 3px)` }}
        aria-expanded={!lane.isFolded}
        aria-label={pairName(lane)}
        onPress={() => onFold(lane.isFolded ? folded.filter((other) => other !== pair) : [...folded, pair])}
      >
        {lane.isFolded ? <ChevronRight size={14} aria-hidden="true" /> : <ChevronDown size={14} aria-hidden="true" />}
      </FoldButton>
      {lane.isFolded ? (
        <Name style={{ top: `calc(${lane.top * 100}% + 4px)`, left: 30 }} $colour="soft">
          {[
            pairName(lane),
            ...new Set(lane.channels.flatMap((channel) => channelRemark(channel, inspection) ?? [])),
          ].join(' · ')}
        </Name>
      ) : (
        lane.channels.map((channel, i) => (
          <Name
            key={channel}
            style={{ top: `calc(${laneOf(channel, channels, folded).top * 100}% + 4px)`, left: 30 }}
            $colour={i === 0 ? 'left' : 'right-text'}
          >
            {[channelLabel(channel, channels), channelRemark(channel, inspection)].filter(Boolean).join(' · ')}
          </Name>
        ))
      )}
    </div>
  ));
}

function pairName({ channels }: PairLane): string {
  return channels.length === 1 ? `Channel ${channels[0]}` : `Channels ${channels.join(' and ')}`;
}

const Name = styled.span<{ $colour: string }>`
  position: absolute; left: 8px; color: ${({ $colour }) => `var(--${$colour})`};
  font-size: 12px; font-weight: 600; pointer-events: none; background: color-mix(in srgb, var(--sheet) 80%, transparent); padding: 0 4px; border-radius: 4px; line-height: 16px; white-space: nowrap;
`;
const FoldButton = styled(Button)`
  position: absolute; left: 6px; width: 20px; height: 18px; padding: 0; display: grid; place-items: center; border: 0; border-radius: 4px; background: color-mix(in srgb, var(--sheet) 80%, transparent); color: var(--soft); cursor: pointer;
  &[data-hovered] { color: var(--ink); }
`;
