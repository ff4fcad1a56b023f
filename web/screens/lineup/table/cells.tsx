import { Check, Pause, Play } from 'lucide-react';
import { Link } from 'react-aria-components';
import styled from 'styled-components';
import type { LineupRow } from '@pocket-twin/core/schema/lineup.ts';
import { sayDecibels, sayNumber } from '@pocket-twin/core/signal/sayDecibels.ts';
import { useMeasureAgainMutation } from '../../../api/api.ts';
import { useAppDispatch, useAppSelector } from '../../../app/store.ts';
import { Button } from '../../../parts/Button.tsx';
import { channelLabel, channelWords } from '../../../parts/channelWords.ts';
import { ProgressLine } from '../../../parts/ProgressLine.tsx';
import { sayBytes, sayTime } from '../../../parts/sayTime.ts';
import { TwinGlyph } from '../../../parts/TwinGlyph.tsx';
import { useLineupPlayer } from '../lineupPlayer.ts';
import { pointingBegan } from '../lineupSlice.ts';
import { SmallRibbon } from '../SmallRibbon.tsx';

// What stands in each column of a clip's row. All get the row; what is not measured yet is empty.

type CellProps = { row: LineupRow };

export function GlyphCell({ row: { summary } }: CellProps) {
  return summary && <TwinGlyph verdict={summary.verdict} side={summary.side} channels={summary.channels.length} />;
}

export function NameCell({ row }: CellProps) {
  const { summary } = row;
  const facts = summary ? `${sayTime(summary.durationSeconds)} · ${channelWords(summary.channels.length, summary.hasVideo)}` : sayBytes(row.bytes);
  return (
    <Named>
      {row.state === 'ready'
        ? <NameLink href={`/projects/${row.projectId}/bench/${row.id}`} aria-label={`Open ${row.name} on the bench`}>{row.name}</NameLink>
        : <Strong title={row.name}>{row.name}</Strong>}
      <Fact>{facts}{row.sameAs && <> · <span title={`The same content as ${row.sameAs}`}>same as {row.sameAs}</span></>}</Fact>
      {row.hasStill && <img src={`/api/clips/${row.id}/still`} alt="" loading="lazy" />}
    </Named>
  );
}

export function RibbonCell({ row }: CellProps) {
  const playing = useAppSelector((state) => state.lineup.hearing?.clipId === row.id && state.lineup.hearing.channel === null);
  const player = useLineupPlayer();
  if (!row.sketch) return null;
  return (
    <Hearable data-playing={playing || undefined}>
      <SmallRibbon sketch={row.sketch} />
      <HearButton
        kind="plain" aria-label={playing ? `Stop ${row.name}` : `Hear ${row.name}`} excludeFromTabOrder
        onPress={() => player.press(row)} onHoverStart={() => player.hover(row)} onHoverEnd={() => player.leave()}
      >
        {playing ? <Pause size={13} aria-hidden="true" /> : <Play size={13} aria-hidden="true" />}
      </HearButton>
    </Hearable>
  );
}

const STAGES = { measuring: 'Measuring', 'looking again': 'Looking again', comparing: 'Comparing with the other clips', writing: 'Writing', proving: 'Checking' };

export function WhatCell({ row }: CellProps) {
  const progress = useAppSelector((state) => state.progress[row.id]);
  if (row.state === 'failed') return <FailedWords row={row} />;
  if (row.state === 'waiting') return <Fact>Waiting to be measured</Fact>;
  if (row.state === 'reading' || !row.summary) {
    const stage = STAGES[progress?.stage ?? 'measuring'];
    return <><Fact>{stage} ...</Fact><ProgressLine label={`${stage} ${row.name}`} share={progress?.share} /></>;
  }
  const { headline, fact, warning } = row.summary;
  return (
    <>
      <Said>
        <Strong title={headline}>{headline.replace(/\.$/, '')}</Strong>
        {row.differs && <Odd title="Other clips of this setup carry something else">odd one out</Odd>}
      </Said>
      {row.sourceState !== 'here'
        ? <LostSource row={row} />
        : warning ? <Warned title={warning}>{warning}</Warned> : <Fact title={fact}>{fact}</Fact>}
    </>
  );
}

function FailedWords({ row }: CellProps) {
  const [measure] = useMeasureAgainMutation();
  return <Failed title={row.error ?? ''}>{row.error} <Small kind="quiet" aria-label={`Measure ${row.name} again`} onPress={() => void measure(row.id)}>Try again</Small></Failed>;
}

function LostSource({ row }: CellProps) {
  const dispatch = useAppDispatch();
  const [measure] = useMeasureAgainMutation();
  return row.sourceState === 'moved'
    ? <Warned>The linked file has moved. <Small kind="quiet" onPress={() => dispatch(pointingBegan({ clipId: row.id, name: row.name }))}>Point to it again</Small></Warned>
    : <Warned>The linked file has changed. <Small kind="quiet" onPress={() => void measure(row.id)}>Measure it again</Small></Warned>;
}

export function LoudnessCell({ row, channel }: CellProps & { channel: number }) {
  const report = row.summary?.channels[channel - 1];
  return report ? <span className="numeric">{sayNumber(report.loudnessLufs)}</span> : null;
}

export function BalanceCell({ row: { summary } }: CellProps) {
  return summary && summary.channels.length >= 2 ? <span className="numeric">{sayNumber(summary.balanceLu)}</span> : null;
}

export function SuggestionCell({ row: { summary, kept } }: CellProps) {
  if (kept) return <Words $tone="fine"><Check size={14} aria-label="Kept:" />{kept}</Words>;
  if (!summary) return null;
  if (summary.suggestion.name) return <Words $tone="ink">{summary.suggestion.name}</Words>;
  return summary.suggestion.action === 'none' ? <Words $tone="soft">Leave as it is</Words> : <Words $tone="look">Look first</Words>;
}

const STATES = { new: 'New', kept: 'Repair kept', written: 'Written, differs', verified: 'Written, verified' };
const STATE_TONES = { new: 'soft', kept: 'ink', written: 'fix', verified: 'fine' };

export function StateCell({ row: { handling, state } }: CellProps) {
  return state === 'ready' ? <Words $tone={STATE_TONES[handling]}>{STATES[handling]}</Words> : null;
}

export function LengthCell({ row: { summary } }: CellProps) {
  return summary && <span className="numeric">{sayTime(summary.durationSeconds)}</span>;
}

export function ChannelsCell({ row: { summary } }: CellProps) {
  return summary && <span className="numeric">{summary.channels.length}</span>;
}

export function TimecodeCell({ row: { timecode } }: CellProps) {
  return timecode && <span className="numeric">{timecode}</span>;
}

const CONTENTS = { programme: 'Sound', noise: 'Only noise', silent: 'Silent' };

/** One channel of a clip that is unfolded: its half-ribbon, what it is called, level, content, and a way to hear it alone. */
export function ChannelRowContent({ row, channel }: CellProps & { channel: number }) {
  const playing = useAppSelector((state) => state.lineup.hearing?.clipId === row.id && state.lineup.hearing.channel === channel);
  const player = useLineupPlayer();
  const report = row.summary?.channels[channel - 1];
  if (!report || !row.sketch) return null;
  const label = channelLabel(channel, row.summary!.channels.length, row.channelNames[channel - 1]);
  return (
    <ChannelLine>
      <Button kind="plain" aria-label={`${playing ? 'Stop' : 'Hear'} ${label} of ${row.name} alone`} onPress={() => player.toggle(row, channel)}>
        {playing ? <Pause size={13} aria-hidden="true" /> : <Play size={13} aria-hidden="true" />}
      </Button>
      <Strong>{label}</Strong>
      <SmallRibbon sketch={row.sketch} channels={[channel]} />
      <span>{CONTENTS[report.content]}</span>
      <span className="numeric">{sayDecibels(report.loudnessLufs, 'LUFS')}</span>
      <span className="numeric">peak {sayDecibels(report.peakDbfs, 'dBFS')}</span>
    </ChannelLine>
  );
}

export const Strong = styled.div`font-weight: 600; overflow: hidden; text-overflow: ellipsis; white-space: nowrap;`;
const NameLink = styled(Link)`
  display: block; font-weight: 600; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; text-decoration: none; cursor: pointer;
  &[data-hovered] { text-decoration: underline; text-underline-offset: 3px; }
`;
export const Fact = styled.div`font-size: 12.5px; color: var(--soft); overflow: hidden; text-overflow: ellipsis; white-space: nowrap;`;
const Failed = styled.div`color: var(--fix); font-size: 13px; line-height: 1.3; display: -webkit-box; -webkit-line-clamp: 2; -webkit-box-orient: vertical; overflow: hidden;`;
const Warned = styled(Fact)`color: var(--look);`;
const Said = styled.div`display: flex; gap: 8px; align-items: center;`;
const Odd = styled.span`flex: none; padding: 1px 7px; border-radius: 99px; font-size: 11.5px; color: var(--look); background: var(--look-wash);`;
const Words = styled.div<{ $tone: string }>`
  display: flex; gap: 5px; align-items: center; white-space: nowrap; overflow: hidden; text-overflow: ellipsis;
  color: ${({ $tone }) => `var(--${$tone})`}; font-weight: ${({ $tone }) => ($tone === 'soft' ? 400 : 600)};
`;
const Small = styled(Button)`&& { min-height: 0; padding: 0 4px; font-size: 12.5px; color: inherit; text-decoration: underline; text-underline-offset: 3px; }`;
const Named = styled.div`
  position: relative;
  img { position: absolute; right: 0; bottom: 0; width: 32px; height: 19px; object-fit: cover; border-radius: 3px; border: 1px solid var(--line); }
`;
const HearButton = styled(Button)`
  && { position: absolute; left: 0; top: 50%; transform: translateY(-50%); min-height: 26px; width: 26px; padding: 0; border-radius: 99px; opacity: 0; }
`;
const Hearable = styled.div`
  position: relative;
  &[data-playing] button, *:hover > & button, [role='row']:hover & button, [role='row'][data-focused] & button { opacity: 1; }
  &[data-playing] svg:first-child { opacity: 0.55; }
`;
const ChannelLine = styled.div`
  display: grid; grid-template-columns: 34px minmax(120px, 220px) minmax(120px, 260px) 90px 110px 140px; gap: 14px; align-items: center; font-size: 13px;
  button { min-height: 28px; width: 30px; padding: 0; border-radius: 99px; }
`;
