import { Pause, Play } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Button } from 'react-aria-components';
import styled from 'styled-components';
import type { Heard } from '@pocket-twin/core/repair/run/listening.ts';
import { inBackground } from '../../parts/inBackground.ts';
import { useAppDispatch, useAppSelector } from '../../state/store.ts';
import type { Player, PlayerState } from '../../listen/player.ts';
import { Choice } from '../../parts/Choice.tsx';
import { sayTime } from '@pocket-twin/core/time/sayTime.ts';
import { heardChosen, whenChosen } from '../../state/benchSlice.ts';
import { Meters } from './Meters.tsx';

const HEARD: { value: Heard; label: string; title: string }[] = [
  { value: 'both', label: 'Both', title: 'Hear both sides' },
  { value: 'left', label: 'Left', title: 'Hear the left side alone' },
  { value: 'right', label: 'Right', title: 'Hear the right side alone' },
  { value: 'sum', label: 'Sum', title: 'Hear the sum' },
  { value: 'difference', label: 'Difference', title: 'Hear the difference' },
];

/** Play, what is heard, before or after, and the meters: always in sight. */
export function ListenBar({ player, trouble }: { player: Player; trouble: string | null }) {
  const dispatch = useAppDispatch();
  const { heard, when } = useAppSelector((state) => state.bench);
  const [place, setPlace] = useState({ playing: false, tenths: 0 });
  useEffect(() => {
    const show = ({ playing, frame }: PlayerState): void => {
      const tenths = Math.floor((frame / player.sampleRate) * 10);
      setPlace((was) => (was.playing === playing && was.tenths === tenths ? was : { playing, tenths }));
    };
    show(player.state);
    return player.subscribe(show);
  }, [player]);
  return (
    <Bar aria-label="Listen">
      <PlayButton onPress={() => inBackground(player.toggle())} aria-label={place.playing ? 'Pause' : 'Play'}>
        {place.playing ? (
          <Pause size={20} fill="currentColor" aria-hidden="true" />
        ) : (
          <Play size={20} fill="currentColor" aria-hidden="true" />
        )}
      </PlayButton>
      <Stack>
        <Choice
          label="What is heard"
          value={heard}
          options={HEARD.map((option) => ({ ...option, keyOf: `hear-${option.value}` }))}
          onChange={(value) => dispatch(heardChosen(value))}
          small
        />
        <Second>
          <Choice
            label="Before or after the repair"
            value={when}
            small
            onChange={(value) => dispatch(whenChosen(value))}
            options={[
              { value: 'before', label: 'Before', title: 'Hear the clip before the repair' },
              { value: 'after', label: 'After', title: 'Hear the clip after the repair' },
            ]}
          />
          <Time className="numeric" data-testid="time">
            {sayTime(place.tenths / 10, 1)} / {sayTime(player.frames / player.sampleRate, 1)}
          </Time>
        </Second>
      </Stack>
      {trouble ? <Trouble role="alert">{trouble}</Trouble> : <Meters player={player} />}
    </Bar>
  );
}

const Bar = styled.section`
  flex: none; display: flex; flex-wrap: wrap; align-items: center; gap: 8px 18px; padding: 10px 20px; background: var(--sheet); border-top: 1px solid var(--line); min-height: 88px;
`;
const PlayButton = styled(Button)`
  width: 44px; height: 44px; flex: none; border-radius: 50%; border: 0; background: var(--button); color: var(--button-text); display: grid; place-items: center; cursor: pointer;
`;
const Stack = styled.div`display: flex; flex-direction: column; gap: 8px;`;
const Second = styled.div`display: flex; gap: 12px; align-items: center;`;
const Time = styled.span`font-size: 12px; color: var(--soft); white-space: nowrap;`;
const Trouble = styled.p`color: var(--fix);`;
