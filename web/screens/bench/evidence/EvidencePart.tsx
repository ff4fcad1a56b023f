import { useState } from 'react';
import styled from 'styled-components';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import { sentenceOf, useEvidenceQuery } from '../../../state/api.ts';
import { useAppSelector } from '../../../state/store.ts';
import type { Player } from '../../../listen/player.ts';
import { Choice } from '../../../parts/Choice.tsx';
import { Notice } from '../../../parts/Notice.tsx';
import { Soft } from '../../../parts/Screen.tsx';
import { secondsOfFrames } from '@pocket-twin/core/time/spans.ts';
import { PAIR_REACH_MS } from '@pocket-twin/core/diagnose/boundaries.ts';
import { sayNumber } from '@pocket-twin/core/signal/sayDecibels.ts';
import { sayTime } from '@pocket-twin/core/time/sayTime.ts';
import { whole } from '../../../ribbon/view.ts';
import { ArrivalView } from './ArrivalView.tsx';
import { BalanceView } from './BalanceView.tsx';
import { EvidenceCard } from './EvidenceCard.tsx';
import { FindingsList } from './FindingsList.tsx';
import { NullView } from './NullView.tsx';
import { PairChooser } from './PairChooser.tsx';
import { ScopeView } from './ScopeView.tsx';
import type { EvidenceName } from '@pocket-twin/core/diagnose/catalogue/entry.ts';
import { VERDICTS } from '@pocket-twin/core/diagnose/catalogue/verdicts.ts';
import { SpectrumView } from './SpectrumView.tsx';
import { SpokenView } from './SpokenView.tsx';

/** Why the verdict is what it is: findings, and views of two channels over the clip or the stretch that the ribbon shows. */
export function EvidencePart({ clip, player }: { clip: Clip; player: Player }) {
  const { format, pairs } = clip.inspection!;
  const [pair, setPair] = useState<[number, number]>([1, 2]);
  const [over, setOver] = useState<'clip' | 'shown'>('clip');
  // What a person opened or folded stays so while pairs are compared.
  const [chosen, setChosen] = useState<Partial<Record<EvidenceName, boolean>>>({});
  const view = useAppSelector((state) => state.bench.views[clip.id]) ?? whole(format.frames);
  const range = over === 'shown' ? secondsOfFrames(view, format.sampleRate) : {};
  const { data, error, isFetching } = useEvidenceQuery(
    { clipId: clip.id, left: pair[0], right: pair[1], ...range },
    { skip: format.channels < 2 },
  );
  if (format.channels < 2)
    return (
      <Why aria-label="Why">
        <FindingsList clip={clip} player={player} />
      </Why>
    );
  const known = pairs.find(({ channels }) => channels[0] === pair[0] && channels[1] === pair[1]);
  const speaking = known ? VERDICTS[known.verdict].evidence(known) : [];
  const decided = over === 'clip' && known && known.spoke.length > 0 ? known.spoke : null;
  const fold = (name: EvidenceName) => ({
    open: chosen[name] ?? speaking.includes(name),
    onOpenChange: (open: boolean) => setChosen({ ...chosen, [name]: open }),
  });
  const names = format.channels === 2 ? ['Left', 'Right'] : pair.map((channel) => `Channel ${channel}`);
  return (
    <Why aria-label="Why">
      <FindingsList clip={clip} player={player} />
      <Bar>
        <h2>Evidence</h2>
        {format.channels > 2 && <PairChooser channels={format.channels} pair={pair} onChange={setPair} />}
        <Choice
          label="Evidence from"
          small
          value={over}
          onChange={setOver}
          options={[
            { value: 'clip', label: 'Whole clip' },
            { value: 'shown', label: 'What the ribbon shows' },
          ]}
        />
        {isFetching && <Soft role="status">Looking again ...</Soft>}
        {over === 'shown' && data && !isFetching && (
          <Soft className="numeric">
            {sayTime(data.startSeconds, 1)} to {sayTime(data.endSeconds, 1)}
          </Soft>
        )}
      </Bar>
      {error && <Notice tone="fix">{sentenceOf(error)}</Notice>}
      {data && (
        <Cards>
          {(decided || data.match) && (
            <Column>
              {decided && (
                <EvidenceCard
                  title="What decided it"
                  {...fold('spoken')}
                  how="Each line is one thing that was measured, from nothing at the left. Past the mark in the middle it speaks for what stands over it. Close to the mark, or with two of them past it, listen for yourself."
                >
                  <SpokenView spoke={decided} />
                </EvidenceCard>
              )}
              {data.match && (
                <EvidenceCard
                  title="What differs, plain and matched"
                  {...fold('null')}
                  how="Each bar is how far the difference falls below the sum: longer is more alike. A long first bar: the same on both sides. A short first and a long last bar: one signal in disguise. All short: two different sounds."
                >
                  <NullView match={data.match} clip={clip} player={player} ownPair={pair[0] === 1 && pair[1] === 2} />
                </EvidenceCard>
              )}
            </Column>
          )}
          <Column>
            <EvidenceCard
              title="Levels over time"
              {...fold('balance')}
              how="Each line is one side’s level where voices and music lie. Lines together: balanced. One always far below: that side has nothing of its own. Lines that change places: people take turns at two microphones."
            >
              <BalanceView evidence={data} names={names} />
            </EvidenceCard>
            {data.match && (
              <>
                <EvidenceCard
                  title="Which side hears it first"
                  {...fold('arrival')}
                  how={`The peak shows how much later the sound reaches the right side. At 0: together. Up to ${sayNumber(PAIR_REACH_MS)} ms: a stereo pair can do that, on a bar of a metre and a half. Further out: microphones far apart, or a delay. A peak downwards: one side is upside down. No peak: nothing in common.`}
                >
                  <ArrivalView match={data.match} sampleRate={format.sampleRate} />
                </EvidenceCard>
                <EvidenceCard
                  title="Both sides over frequency"
                  {...fold('spectrum')}
                  how="The two lines are the sides’ spectra; the shaded area is how far a filter could turn one into the other (1: fully). High everywhere: one signal. High only in the bass: two microphones in one room."
                >
                  <SpectrumView match={data.match} names={names} />
                </EvidenceCard>
                <EvidenceCard
                  title="Left against right"
                  {...fold('scope')}
                  how="Each dot is one moment. A rising line: the same on both sides. A falling one: upside down. A steep or flat one: one side louder. A cloud: stereo."
                >
                  <ScopeView match={data.match} names={names} correlation={known?.correlation ?? null} />
                </EvidenceCard>
              </>
            )}
          </Column>
        </Cards>
      )}
      {data && !data.match && <Soft>One of these channels is silent here: there is nothing to compare.</Soft>}
    </Why>
  );
}

const Why = styled.section`display: flex; flex-direction: column; gap: 12px;`;
const Bar = styled.div`display: flex; gap: 14px; align-items: center; h2 { font-size: 17px; }`;
// Each keeps its place while others are opened: columns that balance themselves would move what a person is reading.
const Cards = styled.div`display: grid; grid-template-columns: repeat(auto-fit, minmax(330px, 1fr)); gap: 12px; align-items: start;`;
const Column = styled.div`display: flex; flex-direction: column; gap: 12px; min-width: 0;`;
