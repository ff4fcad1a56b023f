import { Check, Pause, Play } from 'lucide-react';
import { Link } from 'react-router';
import styled from 'styled-components';
import { standingWords } from '@pocket-twin/core/lineup/words.ts';
import type { LineupEntry, LineupRow, Standing } from '@pocket-twin/core/schema/lineup.ts';
import type { Setup } from '@pocket-twin/core/schema/setup.ts';
import { soundOf } from '@pocket-twin/core/setups/setupClip.ts';
import { sayDecibels, sayNumber } from '@pocket-twin/core/signal/sayDecibels.ts';
import { inBackground } from '../../../parts/inBackground.ts';
import { useMeasureAgainMutation } from '../../../state/api.ts';
import { useAppDispatch, useAppSelector } from '../../../state/store.ts';
import { Button } from '../../../parts/Button.tsx';
import { channelLabel, channelWords } from '../../../parts/channelWords.ts';
import { FileName } from '../../../parts/FileName.tsx';
import { ProgressLine } from '../../../parts/ProgressLine.tsx';
import { sayTime } from '@pocket-twin/core/time/sayTime.ts';
import { sayBytes } from '@pocket-twin/core/pcm/sayBytes.ts';
import { TwinGlyph } from '../../../parts/TwinGlyph.tsx';
import { useServices } from '../../../state/services.ts';
import { pointingBegan } from '../../../state/lineupSlice.ts';
import { SmallRibbon } from '../../../ribbon/SmallRibbon.tsx';
import type { CellFacts } from './cellFacts.ts';

// What stands in each column of a clip's row. The entry is always there; what only the row has comes a moment later.

export function GlyphCell({ entry: { verdict, side, channels } }: CellFacts) {
  return verdict && <TwinGlyph verdict={verdict} side={side} channels={channels ?? 0} />;
}

export function NameCell({ projectId, entry, row }: CellFacts) {
  const { durationSeconds, channels } = entry;
  const facts =
    durationSeconds !== null && channels !== null
      ? `${sayTime(durationSeconds)} · ${channelWords(channels, row?.summary?.hasVideo ?? false)}`
      : row && sayBytes(row.bytes);
  return (
    <Named>
      {entry.standing === 'measuring' || entry.standing === 'unreadable' ? (
        <Strong title={entry.name}>
          <FileName name={entry.name} />
        </Strong>
      ) : (
        <NameLink to={`/projects/${projectId}/bench/${entry.id}`} tabIndex={-1} title={entry.name}>
          <FileName name={entry.name} />
        </NameLink>
      )}
      <Fact>
        {facts}
        {row?.sameAs && (
          <>
            {' '}
            · <span title={`The same content as ${row.sameAs}`}>same as {row.sameAs}</span>
          </>
        )}
      </Fact>
      {row?.hasStill && <img src={`/api/clips/${row.id}/still`} alt="" loading="lazy" />}
    </Named>
  );
}

export function RibbonCell({ row }: CellFacts) {
  const playing = useAppSelector(
    (state) => row !== undefined && state.lineup.hearing?.clipId === row.id && state.lineup.hearing.channel === null,
  );
  const { lineupPlayer: player } = useServices();
  if (!row?.sketch) return null;
  return (
    <Hearable data-playing={playing || undefined}>
      <SmallRibbon sketch={row.sketch} />
      <HearButton
        kind="plain"
        aria-label={playing ? `Stop ${row.name}` : `Hear ${row.name}`}
        excludeFromTabOrder
        onPress={() => player.press(row)}
        onHoverStart={() => player.hover(row)}
        onHoverEnd={() => player.leave()}
      >
        {playing ? <Pause size={13} aria-hidden="true" /> : <Play size={13} aria-hidden="true" />}
      </HearButton>
    </Hearable>
  );
}

const STAGES = {
  joining: 'Joining',
  measuring: 'Measuring',
  'looking again': 'Looking again',
  comparing: 'Comparing with the other clips',
  writing: 'Writing',
  proving: 'Checking',
};

export function WhatCell({ entry, row, setup }: CellFacts) {
  const progress = useAppSelector((state) => state.progress[entry.id]);
  if (entry.standing === 'unreadable') return <FailedWords entry={entry} />;
  if (entry.standing === 'measuring') {
    if (row?.state === 'waiting' || (!row && !progress)) return <Fact>Waiting to be measured</Fact>;
    const stage = STAGES[progress?.stage ?? 'measuring'];
    return (
      <>
        <Fact>{stage} ...</Fact>
        <ProgressLine label={`${stage} ${entry.name}`} share={progress?.share} />
      </>
    );
  }
  const { headline, fact } = entry;
  const warning = row?.summary?.warning;
  return (
    <>
      <Strong title={headline ?? ''}>{headline?.replace(/\.$/, '')}</Strong>
      <Beneath>
        {isOdd(entry, setup) && <Odd title="Other clips of this setup carry something else">odd one out</Odd>}
        {row && row.sourceState !== 'here' ? (
          <LostSource row={row} />
        ) : warning ? (
          <Warned title={warning}>{warning}</Warned>
        ) : (
          <Fact title={fact ?? ''}>{fact}</Fact>
        )}
      </Beneath>
    </>
  );
}

/** It carries another thing than most of its setup. */
function isOdd({ verdict, side }: LineupEntry, setup: Setup | undefined): boolean {
  return (
    verdict !== null &&
    setup !== undefined &&
    setup.verdict !== null &&
    soundOf({ verdict, side }) !== soundOf({ verdict: setup.verdict, side: setup.side })
  );
}

function FailedWords({ entry: { id, name, error } }: { entry: LineupEntry }) {
  const [measure] = useMeasureAgainMutation();
  return (
    <WayOut>
      <Failed title={error ?? ''}>{error}</Failed>
      <Small kind="quiet" aria-label={`Measure ${name} again`} onPress={() => inBackground(measure(id))}>
        Try again
      </Small>
    </WayOut>
  );
}

function LostSource({ row }: { row: LineupRow }) {
  const dispatch = useAppDispatch();
  const [measure] = useMeasureAgainMutation();
  return row.sourceState === 'moved' ? (
    <WayOut>
      <Warned title="The linked file has moved.">The linked file has moved.</Warned>
      <Small kind="quiet" onPress={() => dispatch(pointingBegan({ clipId: row.id, name: row.name }))}>
        Point to it again
      </Small>
    </WayOut>
  ) : (
    <WayOut>
      <Warned title="The linked file has changed.">The linked file has changed.</Warned>
      <Small kind="quiet" onPress={() => inBackground(measure(row.id))}>
        Measure it again
      </Small>
    </WayOut>
  );
}

export function LoudnessCell({
  entry: { channels },
  lufs,
  channel,
}: {
  entry: LineupEntry;
  lufs: number | null;
  channel: number;
}) {
  return channels !== null && channel <= channels ? <span className="numeric">{sayNumber(lufs)}</span> : null;
}

export function BalanceCell({ entry: { channels, balanceLu } }: CellFacts) {
  return channels !== null && channels >= 2 ? <span className="numeric">{sayNumber(balanceLu)}</span> : null;
}

export function SuggestionCell({ entry: { standing, suggestion, kept } }: CellFacts) {
  if (kept)
    return (
      <Words $tone="fine">
        <Check size={14} aria-label="Kept:" />
        <span title={kept}>{kept}</span>
      </Words>
    );
  if (standing === 'open')
    return (
      <Words $tone="ink">
        <span title={suggestion ?? ''}>{suggestion}</span>
      </Words>
    );
  if (standing === 'fine') return <Words $tone="soft">Leave as it is</Words>;
  return standing === 'look' ? <Words $tone="look">Look first</Words> : null;
}

const STANDING_TONES: Record<Standing, string> = {
  open: 'ink',
  look: 'look',
  kept: 'ink',
  written: 'fine',
  fine: 'soft',
  measuring: 'soft',
  unreadable: 'soft',
};

export function StateCell({ entry: { standing }, row }: CellFacts) {
  if (standing === 'measuring' || standing === 'unreadable') return null;
  if (row?.readBackDiffers) return <Words $tone="fix">Written, differs</Words>;
  return <Words $tone={STANDING_TONES[standing]}>{standingWords(standing)}</Words>;
}

export function LengthCell({ entry: { durationSeconds } }: CellFacts) {
  return durationSeconds !== null && <span className="numeric">{sayTime(durationSeconds)}</span>;
}

export function ChannelsCell({ entry: { channels } }: CellFacts) {
  return channels !== null && <span className="numeric">{channels}</span>;
}

export function TimecodeCell({ row }: CellFacts) {
  return row?.timecode && <span className="numeric">{row.timecode}</span>;
}

const CONTENTS = { programme: 'Sound', noise: 'Only noise', silent: 'Silent' };

/** One channel of a clip that is unfolded: its half-ribbon, what it is called, level, content, and a way to hear it alone. */
export function ChannelRowContent({ row, channel }: { row: LineupRow; channel: number }) {
  const playing = useAppSelector(
    (state) => state.lineup.hearing?.clipId === row.id && state.lineup.hearing.channel === channel,
  );
  const { lineupPlayer: player } = useServices();
  const report = row.summary?.channels[channel - 1];
  if (!report || !row.sketch) return null;
  const label = channelLabel(channel, row.summary!.channels.length, row.channelNames[channel - 1]);
  return (
    <ChannelLine>
      <Button
        kind="plain"
        excludeFromTabOrder
        aria-label={`${playing ? 'Stop' : 'Hear'} ${label} of ${row.name} alone`}
        onPress={() => player.toggle(row, channel)}
      >
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
  &:hover { text-decoration: underline; text-underline-offset: 3px; }
`;
export const Fact = styled.div`font-size: 12.5px; color: var(--soft); overflow: hidden; text-overflow: ellipsis; white-space: nowrap;`;
const Failed = styled.div`color: var(--fix); font-size: 13px; line-height: 1.3; display: -webkit-box; -webkit-line-clamp: 2; -webkit-box-orient: vertical; overflow: hidden;`;
const Warned = styled(Fact)`color: var(--look);`;
/** What is wrong may be cut; what to do about it never is. */
const WayOut = styled.div`display: flex; gap: 8px; align-items: center; min-width: 0; > div { min-width: 0; } > button { flex: none; color: var(--ink); }`;
const Beneath = styled.div`display: flex; gap: 8px; align-items: center; min-width: 0; > div { min-width: 0; }`;
const Odd = styled.span`flex: none; padding: 1px 7px; border-radius: 99px; font-size: 11.5px; color: var(--look); background: var(--look-wash);`;
const Words = styled.div<{ $tone: string }>`
  svg { flex: none; }
  > span { overflow: hidden; text-overflow: ellipsis; }
  display: flex; gap: 5px; align-items: center; white-space: nowrap; overflow: hidden; text-overflow: ellipsis;
  color: ${({ $tone }) => `var(--${$tone})`}; font-weight: ${({ $tone }) => ($tone === 'soft' ? 400 : 600)};
`;
const Small = styled(
  Button,
)`&& { min-height: 0; padding: 0 4px; font-size: 12.5px; color: inherit; text-decoration: underline; text-underline-offset: 3px; }`;
const Named = styled.div`
  position: relative;
  img { position: absolute; right: 0; bottom: 0; width: 32px; height: 19px; object-fit: cover; border-radius: 3px; border: 1px solid var(--line); }
`;
const HearButton = styled(Button)`
  && { position: absolute; left: 0; top: 50%; transform: translateY(-50%); min-height: 26px; width: 26px; padding: 0; border-radius: 99px; opacity: 0; }
`;
const Hearable = styled.div`
  position: relative;
  &[data-playing] button, [role='row']:hover & button, [role='row']:focus-within & button { opacity: 1; }
  &[data-playing] svg:first-child { opacity: 0.55; }
`;
const ChannelLine = styled.div`
  display: grid; grid-template-columns: 34px minmax(120px, 220px) minmax(120px, 260px) 90px 110px 140px; gap: 14px; align-items: center; font-size: 13px;
  button { min-height: 28px; width: 30px; padding: 0; border-radius: 99px; }
`;
