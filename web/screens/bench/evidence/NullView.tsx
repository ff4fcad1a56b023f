import { Headphones } from 'lucide-react';
import { Fragment } from 'react';
import styled from 'styled-components';
import { saySway } from '@pocket-twin/core/diagnose/catalogue/disguise.ts';
import { matchPlan } from '@pocket-twin/core/repair/plan/fromSuggestion.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { MatchEvidence } from '@pocket-twin/core/schema/evidence.ts';
import { sayDecibels, sayNumber } from '@pocket-twin/core/signal/sayDecibels.ts';
import { sayTime } from '@pocket-twin/core/time/sayTime.ts';
import { inBackground } from '../../../parts/inBackground.ts';
import { useAppDispatch } from '../../../state/store.ts';
import type { Player } from '../../../listen/player.ts';
import { Button } from '../../../parts/Button.tsx';
import { leftoverProbed } from '../../../state/benchSlice.ts';

const DEEPEST_DB = -80;

interface NullViewProps {
  match: MatchEvidence;
  clip: Clip;
  player: Player;
  /** Only the pair that is played can be heard. */
  ownPair: boolean;
}

/** How deep the difference falls with no help, and step by step with it; and what is left, to be heard. */
export function NullView({ match, clip, player, ownPair }: NullViewProps) {
  const dispatch = useAppDispatch();
  const { format } = clip.inspection!;
  const rows: [string, number | null][] = [
    ['As it is', match.plainNullDb],
    ['Level and polarity undone', match.levelNullDb],
    ['Delay undone too', match.alignedNullDb],
    ['Filter undone too', match.matchedNullDb],
  ];
  const hear = (matched: boolean): void => {
    dispatch(leftoverProbed(matched ? matchPlan(format, match) : 'plain'));
    if (!player.state.playing) inBackground(player.toggle());
  };
  return (
    <>
      <Bars>
        {rows.map(([name, db]) => (
          <div key={name}>
            <dt>{name}</dt>
            <dd>
              <Track>
                <Fill style={{ width: `${share(db) * 100}%` }} />
              </Track>
              <span className="numeric">
                {db !== null && db < DEEPEST_DB ? `under ${sayNumber(DEEPEST_DB, 0)} dB` : sayDecibels(db, 'dB', 0)}
              </span>
            </dd>
          </div>
        ))}
      </Bars>
      <Undone>
        Undone: {match.polarity === 'inverted' ? 'polarity, ' : ''}
        {sayDecibels(match.gainDb, 'dB')},{' '}
        <span>
          {sayNumber(match.delaySamples, 2)} samples ({sayNumber((1000 * match.delaySamples) / format.sampleRate, 2)}{' '}
          ms)
        </span>
        {movingParts(match).map((part) => (
          <Fragment key={part}>, {part}</Fragment>
        ))}
        .
      </Undone>
      {ownPair && (
        <Row>
          <Headphones size={14} aria-hidden="true" />
          <span>Hear what is left</span>
          <Button aria-label="Hear what is left, plain" onPress={() => hear(false)}>
            plain
          </Button>
          <Button aria-label="Hear what is left, matched" onPress={() => hear(true)}>
            matched
          </Button>
        </Row>
      )}
    </>
  );
}

/** What no fixed filter undoes, where it was there. */
function movingParts({ driftPpm, jump, gainMovesDb, limited, echoSeconds, sway }: MatchEvidence): string[] {
  return [
    driftPpm !== 0 && `clocks ${sayNumber(Math.abs(driftPpm), 1)} ppm apart`,
    jump && `${sayNumber(jump.delaySamples, 2)} samples more from ${sayTime(jump.atSeconds, 2)} on`,
    gainMovesDb !== 0 && `a gain that moves by ${sayDecibels(gainMovesDb, 'dB')} on the ${limited ?? 'one'} side`,
    sway && saySway(sway),
    echoSeconds !== 0 &&
      `an echo ${sayNumber(1000 * echoSeconds, 1)} ms later, added on one side and taken away on the other`,
  ].filter((part) => typeof part === 'string');
}

function share(db: number | null): number {
  return Math.max(0, Math.min(1, (db ?? DEEPEST_DB) / DEEPEST_DB));
}

const Bars = styled.dl`
  display: grid; gap: 7px; font-size: 12.5px;
  dt { color: var(--soft); } dd { display: grid; grid-template-columns: 1fr 96px; gap: 10px; align-items: center; text-align: right; }
`;
const Track = styled.div`height: 8px; border-radius: 4px; background: var(--line); overflow: hidden;`;
const Fill = styled.div`height: 100%; background: var(--difference);`;
const Undone = styled.p`font-size: 12.5px; color: var(--soft); span { white-space: nowrap; }`;
const Row = styled.div`
  display: flex; gap: 8px; align-items: center; font-size: 12.5px; svg { color: var(--soft); }
  button { min-height: 26px; padding: 1px 10px; font-size: 12.5px; }
`;
