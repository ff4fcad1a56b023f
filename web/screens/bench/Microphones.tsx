import { Button as AriaButton } from 'react-aria-components';
import styled from 'styled-components';
import { selectChannel, splitToMonos } from '@pocket-twin/core/repair/plan/plans.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import { Button } from '../../parts/Button.tsx';
import { channelLabel } from '../../parts/channelWords.ts';
import { Key } from '../../parts/Key.tsx';
import { OWN_KEY } from '../../parts/keys.ts';
import { useAppDispatch, useAppSelector } from '../../state/store.ts';
import { channelSoloed } from '../../state/benchSlice.ts';
import type { BenchActions } from './benchActions.ts';
import { channelRemark } from './channelRemark.ts';

/** Whether there is a choice to be made by ear. */
export function hasMicrophones(clip: Clip): boolean {
  const { format, verdict } = clip.inspection!;
  return format.channels > 2 || verdict === 'two-mics';
}

/** Choosing among microphones: each alone, at one loudness, at the same place; the clearest is marked, copies are told. */
export function Microphones({ clip, actions }: { clip: Clip; actions: BenchActions }) {
  const inspection = clip.inspection!;
  const dispatch = useAppDispatch();
  const soloed = useAppSelector((state) => (state.bench.soloed?.clipId === clip.id ? state.bench.soloed : null));
  const { channels } = inspection.format;
  const hear = (channel: number | null): void => {
    dispatch(channelSoloed({ clipId: clip.id, channel }));
  };
  const label = (channel: number): string => channelLabel(channel, channels);
  return (
    <Part aria-label="Choose by ear">
      <Title>
        By ear <Key of="next-channel" />
      </Title>
      <Chips>
        {inspection.channels.map(({ channel }) => {
          const remark = channelRemark(channel, inspection);
          const name = clip.facts?.trackNames[channel - 1];
          return (
            <Chip
              key={channel}
              aria-pressed={soloed?.channel === channel}
              data-selected={soloed?.channel === channel || undefined}
              data-clearest={remark === 'clearest' || undefined}
              aria-label={['Hear', label(channel), name, remark].filter(Boolean).join(', ')}
              onPress={() => hear(soloed?.channel === channel ? null : channel)}
              {...{ [OWN_KEY]: '' }}
            >
              {channels > 2 ? channel : label(channel)}
              {(name || remark) && <small>{[name, remark].filter(Boolean).join(' · ')}</small>}
            </Chip>
          );
        })}
      </Chips>
      {soloed ? (
        <Keeps>
          <Button
            kind="quiet"
            shortcut="keep-channel"
            onPress={() => actions.tryRepair(selectChannel(soloed.channel, channels))}
          >
            Only {label(soloed.channel).toLowerCase()}
          </Button>
          {soloed.before !== null && channels > 2 && (
            <Button
              kind="quiet"
              onPress={() =>
                actions.tryRepair(
                  splitToMonos(
                    channels,
                    [soloed.before!, soloed.channel].sort((a, b) => a - b),
                  ),
                )
              }
            >
              {soloed.before} and {soloed.channel}
            </Button>
          )}
          <Button kind="quiet" onPress={() => hear(null)}>
            Back to the plan
          </Button>
        </Keeps>
      ) : (
        inspection.clearestChannel !== null && (
          <Why>
            Clearest: {label(inspection.clearestChannel).toLowerCase()}, where speech stands highest over its own
            pauses.
          </Why>
        )
      )}
    </Part>
  );
}

const Part = styled.section`flex: none; display: flex; flex-wrap: wrap; gap: 6px 12px; align-items: center; font-size: 13px;`;
const Title = styled.h2`font-size: 13px; display: flex; gap: 8px; align-items: center;`;
const Chips = styled.div`display: flex; flex-wrap: wrap; gap: 4px;`;
const Chip = styled(AriaButton)`
  border: 1px solid var(--line); border-radius: 99px; background: var(--sheet); padding: 2px 11px; min-height: 28px; cursor: pointer; font-weight: 600; color: var(--ink); display: inline-flex; gap: 6px; align-items: baseline;
  small { font-size: 11px; font-weight: 400; color: var(--soft); }
  &[data-clearest] small { color: var(--fine); }
  &[data-hovered] { border-color: var(--ink); }
  &[data-selected] { background: var(--button); color: var(--button-text); border-color: var(--button); small { color: inherit; } }
  @media (forced-colors: active) { &[data-selected] { forced-color-adjust: none; background: Highlight; color: HighlightText; } }
`;
const Keeps = styled.div`display: flex; flex-wrap: wrap; gap: 2px; button { min-height: 28px; padding: 2px 8px; font-size: 13px; }`;
const Why = styled.p`color: var(--soft); font-size: 12px;`;
