import { useState } from 'react';
import { Button as AriaButton, ToggleButton } from 'react-aria-components';
import styled from 'styled-components';
import { capital, channelName } from '@pocket-twin/core/diagnose/channelName.ts';
import { trimOf, withTrim } from '@pocket-twin/core/repair/plan/edit.ts';
import { courseWords } from '@pocket-twin/core/repair/plan/courseWords.ts';
import { lineUpTrims } from '@pocket-twin/core/repair/plan/lineUpTrims.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { LineUp } from '@pocket-twin/core/schema/proposal.ts';
import type { Repair } from '@pocket-twin/core/schema/repair.ts';
import { sayNumber } from '@pocket-twin/core/signal/sayDecibels.ts';
import { sayTime } from '@pocket-twin/core/time/sayTime.ts';
import { secondsOfFrames } from '@pocket-twin/core/time/spans.ts';
import { inBackground } from '../../../parts/inBackground.ts';
import { Button } from '../../../parts/Button.tsx';
import { MonoSum } from './MonoSum.tsx';
import { NumberInput } from '../../../parts/NumberInput.tsx';
import { sentenceOf, useMeasureLineUpMutation } from '../../../state/api.ts';
import { viewChanged } from '../../../state/benchSlice.ts';
import { useAppDispatch, useAppSelector } from '../../../state/store.ts';
import type { Player } from '../../../listen/player.ts';

// So many are told apart as dots.
const LEAST_SAMPLES_SHOWN = 120;

interface TrimPartProps {
  clip: Clip;
  player: Player;
  repair: Repair;
  onChange: (repair: Repair) => void;
}

/** A row a channel: gain, polarity, delay; and lining two up by what they have in common. */
export function TrimPart({ clip, player, repair, onChange }: TrimPartProps) {
  const { channels, sampleRate, frames } = clip.inspection!.format;
  return (
    <>
      {Array.from({ length: channels }, (_, i) => {
        const channel = i + 1;
        const trim = trimOf(repair, channel);
        const name = capital(channelName(channel, channels).replace(/^the /, ''));
        const most = Math.min(96_000, frames - 1);
        return (
          <Row key={channel} role="group" aria-label={name}>
            <Top>
              <strong>{name}</strong>
              <Turned
                isSelected={trim.polarity === 'inverted'}
                onChange={(on) => onChange(withTrim(repair, channel, { polarity: on ? 'inverted' : 'normal' }))}
              >
                Turned over
              </Turned>
            </Top>
            <NumberInput
              label="Gain"
              unit="dB"
              value={trim.gainDb}
              step={0.5}
              min={-60}
              max={60}
              decimals={2}
              onChange={(gainDb) => onChange(withTrim(repair, channel, { gainDb }))}
            />
            <NumberInput
              label={`Later${trim.delaySamples === 0 ? '' : ` (${sayNumber((1000 * trim.delaySamples) / sampleRate, 2)} ms)`}`}
              unit="samples"
              value={trim.delaySamples}
              step={1}
              min={-most}
              max={most}
              decimals={2}
              onChange={(delaySamples) => onChange(withTrim(repair, channel, { delaySamples }))}
            />
            {trim.course && (
              <Course>
                <span>{capital(courseWords(trim.course).join(', '))}.</span>
                <AtSamples onPress={() => onChange(withTrim(repair, channel, { course: undefined }))}>
                  Leave its clock
                </AtSamples>
              </Course>
            )}
          </Row>
        );
      })}
      {channels > 1 && <MonoSum clip={clip} repair={repair} />}
      {channels > 1 && <LineUpRow clip={clip} player={player} repair={repair} onChange={onChange} />}
    </>
  );
}

/** Measures over what the ribbon shows, fills in delay and polarity, and says what it brings. */
function LineUpRow({ clip, player, repair, onChange }: TrimPartProps) {
  const { sampleRate } = clip.inspection!.format;
  const view = useAppSelector((state) => state.bench.views[clip.id]);
  const [measure, { isLoading, error }] = useMeasureLineUpMutation();
  const [found, setFound] = useState<LineUp | null | undefined>(undefined);
  const dispatch = useAppDispatch();
  // Around the playhead, wide enough for both, at most as wide as dots are drawn for.
  const showSamples = (): void => {
    const frames = Math.max(LEAST_SAMPLES_SHOWN, 3 * Math.abs(found?.delaySamples ?? 0));
    const startFrame = Math.max(0, Math.round(player.state.frame - frames / 2));
    dispatch(viewChanged({ clipId: clip.id, view: { startFrame, endFrame: startFrame + frames } }));
  };
  const lineUp = async (): Promise<void> => {
    const span = view ? secondsOfFrames(view, sampleRate) : null;
    const { data } = await measure({ clipId: clip.id, channels: [1, 2], span });
    setFound(data);
    if (!data) return;
    // What was lined up before gives way to what is found now.
    const found = lineUpTrims([1, 2], data, clip.inspection!.format);
    const timed = [1, 2].reduce((plan, channel) => {
      const { delaySamples = 0, course } = found.find((trim) => trim.channel === channel) ?? {};
      return withTrim(plan, channel, { delaySamples, course });
    }, repair);
    onChange(withTrim(timed, 2, { polarity: data.polarity }));
  };
  return (
    <>
      <Button isDisabled={isLoading} onPress={() => inBackground(lineUp())}>
        {isLoading ? 'Measuring ...' : `Line up 1 and 2 by ${view ? 'what is shown' : 'the whole clip'}`}
      </Button>
      <Said role="status">
        {error !== undefined && sentenceOf(error)}
        {found === null && 'The two have no sound in common here to line up by.'}
        {found && (
          <>
            {found.delaySamples === 0
              ? found.driftPpm === 0 && !found.jump
                ? 'The two are in step.'
                : 'The two start in step.'
              : `The ${found.delaySamples > 0 ? 'second' : 'first'} is ${sayNumber(Math.abs(found.delaySamples), 2)} samples late.`}
            {found.driftPpm !== 0 &&
              ` The second runs ${sayNumber(Math.abs(found.driftPpm), 1)} ppm ${found.driftPpm > 0 ? 'behind' : 'ahead'}: its clock is undone too.`}
            {found.jump &&
              ` From ${sayTime(found.jump.atSeconds, 2)} on it is ${sayNumber(Math.abs(found.jump.delaySamples), 2)} samples ${found.jump.delaySamples > 0 ? 'later' : 'earlier'}: undone too.`}
            {found.polarity === 'inverted' && ' One is upside down.'} Subtracted they leave{' '}
            {sayNumber(found.nullBeforeDb)} dB before and {sayNumber(found.nullAfterDb)} dB after; summed they lose{' '}
            {sayNumber(found.sumLossBeforeDb)} dB before and {sayNumber(found.sumLossAfterDb)} dB after.{' '}
            <AtSamples onPress={showSamples}>See it at single samples</AtSamples>
          </>
        )}
      </Said>
    </>
  );
}

const Row = styled.div`display: flex; flex-direction: column; gap: 5px; padding-bottom: 8px; border-bottom: 1px dashed var(--line);`;
const Top = styled.div`display: flex; justify-content: space-between; align-items: center; font-size: 13px;`;
const Turned = styled(ToggleButton)`
  border: 1px solid var(--line); border-radius: 8px; background: var(--paper); padding: 3px 9px; font-size: 12px; font-weight: 600; cursor: pointer; color: var(--soft);
  &[data-selected] { background: var(--button); color: var(--button-text); }
  @media (forced-colors: active) { &[data-selected] { forced-color-adjust: none; background: Highlight; color: HighlightText; } }
`;
const AtSamples = styled(
  AriaButton,
)`border: 0; background: none; padding: 0; font-size: 12px; text-decoration: underline; text-underline-offset: 3px; cursor: pointer; color: var(--ink);`;
const Course = styled.div`display: flex; flex-wrap: wrap; justify-content: space-between; gap: 2px 10px; font-size: 12px; color: var(--soft);`;
const Said = styled.p`font-size: 12px; color: var(--soft); &:empty { display: none; }`;
