import { useState } from 'react';
import { Scissors, Trash2 } from 'lucide-react';
import styled from 'styled-components';
import { capital } from '@pocket-twin/core/diagnose/channelName.ts';
import {
  cutSection,
  cutTurn,
  giveTurn,
  moveBoundary,
  moveTurnEdge,
  removeSection,
  removeTurn,
  routeSection,
  withMicrophones,
  withoutSections,
  withoutTurns,
} from '@pocket-twin/core/repair/plan/edit.ts';
import { pass } from '@pocket-twin/core/repair/plan/plans.ts';
import { sectionName } from '@pocket-twin/core/repair/plan/describe.ts';
import { turnsOutputOf, turnsPlan } from '@pocket-twin/core/repair/plan/turnsPlan.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import { NOTHING_TO_FIND, type Finds } from '@pocket-twin/core/schema/proposal.ts';
import type { TurnsOutput } from '@pocket-twin/core/schema/repairFile.ts';
import type { Repair, Route } from '@pocket-twin/core/schema/repair.ts';
import type { Player } from '../../../listen/player.ts';
import { Button } from '../../../parts/Button.tsx';
import { Choice } from '../../../parts/Choice.tsx';
import { Pick } from '../../../parts/Field.tsx';
import { NumberInput } from '../../../parts/NumberInput.tsx';

const EVERY = 'every';

interface TimePartProps {
  clip: Clip;
  repair: Repair;
  player: Player;
  /** The section or turn that is worked on; null where none is. */
  chosen: number | null;
  onChoose: (index: number | null) => void;
  onChange: (repair: Repair) => void;
  /** Looks on the clip for what is wanted. */
  find: (finds: Finds) => void;
  isFinding: boolean;
}

const FADE_SECONDS = 0.01;
const INVERTED: Route = [{ from: 2, gainDb: 0, polarity: 'inverted' }];
/** What a section of a stereo clip can do. */
const SECTION_ROUTES: Record<string, Route[]> = {
  'as it is': [pass(1), pass(2)],
  'fill right from left': [pass(1), pass(1)],
  'fill left from right': [pass(2), pass(2)],
  'swap sides': [pass(2), pass(1)],
  'turn the right side over': [pass(1), INVERTED],
  silence: [[], []],
};

/** Sections and turns: found, or made by hand; their handles lie on the ribbon. */
export function TimePart(props: TimePartProps) {
  const { repair, clip, find, isFinding } = props;
  const { channels } = clip.inspection!.format;
  if (repair.turns) return <TurnsPart {...props} />;
  if (repair.sections) return <SectionsPart {...props} />;
  return (
    <>
      <Hint>A plan for each stretch of time, or microphones that open in turns.</Hint>
      <Line>
        <Button isDisabled={isFinding || channels !== 2} onPress={() => find({ ...NOTHING_TO_FIND, sections: true })}>
          Find what changes
        </Button>
        <CutHere {...props} />
      </Line>
      <Button isDisabled={isFinding || channels < 2} onPress={() => find({ ...NOTHING_TO_FIND, turns: 'centred' })}>
        Find who speaks when
      </Button>
    </>
  );
}

function CutHere({ clip, repair, player, onChange, onChoose }: TimePartProps) {
  const { frames, sampleRate } = clip.inspection!.format;
  return (
    <Button
      onPress={() => {
        const at = Math.round(player.state.frame);
        const cut = cutSection(repair, at, frames, Math.round(FADE_SECONDS * sampleRate));
        onChange(cut);
        onChoose(cut.sections!.list.findIndex(({ startFrame }) => startFrame === at));
      }}
    >
      <Scissors size={14} aria-hidden="true" />
      Cut here
    </Button>
  );
}

function SectionsPart(props: TimePartProps) {
  const { clip, repair, chosen, onChange, onChoose } = props;
  const { sampleRate, frames } = clip.inspection!.format;
  const sections = repair.sections!;
  const index = Math.min(chosen ?? 0, sections.list.length - 1);
  const section = sections.list[index];
  const name = sectionName(section.routes, repair.inputChannels);
  const seconds = (frame: number): number => Math.round((frame / sampleRate) * 1000) / 1000;
  return (
    <>
      <Stepper what="Section" index={index} count={sections.list.length} onChoose={onChoose} />
      <Pick
        label="What it does"
        value={name}
        onChange={(value) => {
          if (SECTION_ROUTES[value]) onChange(routeSection(repair, index, SECTION_ROUTES[value]));
        }}
        options={[
          ...(repair.inputChannels === 2 && repair.outputs[0].routes.length === 2
            ? Object.keys(SECTION_ROUTES).map((value) => ({ value, label: capital(value) }))
            : []),
          ...(SECTION_ROUTES[name] ? [] : [{ value: name, label: capital(name) }]),
        ]}
      />
      {index > 0 && (
        <NumberInput
          label="Begins at"
          unit="s"
          value={seconds(section.startFrame)}
          step={0.01}
          min={0}
          max={seconds(frames)}
          decimals={3}
          onChange={(value) => onChange(moveBoundary(repair, index, value * sampleRate))}
        />
      )}
      {index < sections.list.length - 1 && (
        <NumberInput
          label="Ends at"
          unit="s"
          value={seconds(section.endFrame)}
          step={0.01}
          min={0}
          max={seconds(frames)}
          decimals={3}
          onChange={(value) => onChange(moveBoundary(repair, index + 1, value * sampleRate))}
        />
      )}
      <NumberInput
        label="Fades"
        unit="ms"
        value={(1000 * sections.fadeFrames) / sampleRate}
        step={1}
        min={0}
        max={2000}
        onChange={(ms) =>
          onChange({ ...repair, sections: { ...sections, fadeFrames: Math.round((ms * sampleRate) / 1000) } })
        }
      />
      <Line>
        <CutHere {...props} />
        <Button
          onPress={() => {
            onChange(removeSection(repair, index));
            onChoose(Math.max(0, index - 1));
          }}
        >
          <Trash2 size={14} aria-hidden="true" />
          Take this away
        </Button>
      </Line>
      <Button kind="quiet" onPress={() => onChange(withoutSections(repair))}>
        No sections
      </Button>
    </>
  );
}

function TurnsPart({ clip, repair, player, chosen, onChoose, onChange }: TimePartProps) {
  const { sampleRate, frames, channels } = clip.inspection!.format;
  const turns = repair.turns!;
  const [only, setOnly] = useState<number | null>(null);
  const microphone = turns.microphones.find(({ channel }) => channel === only) ?? turns.microphones[0];
  const set = (change: Parameters<typeof withMicrophones>[1]): void => onChange(withMicrophones(repair, change, only));
  const index = chosen === null || turns.list.length === 0 ? null : Math.min(chosen, turns.list.length - 1);
  const turn = index === null ? null : turns.list[index];
  const seconds = (frame: number): number => Math.round((frame / sampleRate) * 1000) / 1000;
  const framesOfMs = (ms: number): number => Math.round((ms * sampleRate) / 1000);
  const ms = (key: 'fadeInFrames' | 'fadeOutFrames' | 'leadFrames' | 'tailFrames', label: string) => (
    <NumberInput
      label={label}
      unit="ms"
      value={Math.round((1000 * microphone[key]) / sampleRate)}
      step={5}
      min={0}
      max={5000}
      decimals={0}
      onChange={(value) => set({ [key]: framesOfMs(value) })}
    />
  );
  const at = Math.round(player.state.frame);
  return (
    <>
      <Choice<TurnsOutput>
        label="What comes out"
        small
        value={turnsOutputOf(repair) ?? 'separate'}
        onChange={(output) => {
          const { trims, level } = repair;
          onChange({ ...turnsPlan(channels, turns, output), trims, level });
        }}
        options={[
          { value: 'centred', label: 'One mix', title: 'One mono mix on both sides' },
          { value: 'sides', label: 'Left, right', title: 'A gentle left and right' },
          { value: 'separate', label: 'Files', title: 'A file a microphone, in step' },
        ]}
      />
      <Choice
        label="For which microphone"
        small
        value={only === null ? EVERY : String(only)}
        onChange={(value) => setOnly(value === EVERY ? null : Number(value))}
        options={[
          { value: EVERY, label: 'Every one', title: 'Set every microphone alike' },
          ...turns.microphones.map(({ channel }) => ({
            value: String(channel),
            label: String(channel),
            title: `Set the microphone on channel ${channel}`,
          })),
        ]}
      />
      <NumberInput
        label="Closes to"
        unit="dB"
        value={microphone.closedDb ?? -60}
        step={1}
        min={-60}
        max={0}
        onChange={(closedDb) => set({ closedDb: closedDb <= -60 ? null : closedDb })}
      />
      {ms('fadeInFrames', 'Opens over')}
      {ms('fadeOutFrames', 'Closes over')}
      {ms('leadFrames', 'Open before')}
      {ms('tailFrames', 'Open after')}
      {turn && index !== null ? (
        <>
          <Stepper what={`Channel ${turn.channel}, turn`} index={index} count={turns.list.length} onChoose={onChoose} />
          {(['startFrame', 'endFrame'] as const).map((edge) => (
            <NumberInput
              key={edge}
              label={edge === 'startFrame' ? 'Begins at' : 'Ends at'}
              unit="s"
              value={seconds(turn[edge])}
              step={0.01}
              min={0}
              max={seconds(frames)}
              decimals={3}
              onChange={(value) => onChange(moveTurnEdge(repair, index, edge, value * sampleRate, frames))}
            />
          ))}
          <Line>
            {turns.microphones
              .filter(({ channel }) => channel !== turn.channel)
              .map(({ channel }) => (
                <Button key={channel} onPress={() => onChange(giveTurn(repair, index, channel))}>
                  To {channel}
                </Button>
              ))}
            <Button onPress={() => onChange(cutTurn(repair, index, at))} aria-label="Cut this turn at the playhead">
              <Scissors size={14} aria-hidden="true" />
            </Button>
            <Button onPress={() => onChange(removeTurn(repair, index))} aria-label="Take this turn away">
              <Trash2 size={14} aria-hidden="true" />
            </Button>
          </Line>
        </>
      ) : (
        <Button isDisabled={turns.list.length === 0} onPress={() => onChoose(nearest(turns.list, at))}>
          Work on the turn at the playhead
        </Button>
      )}
      <Button kind="quiet" onPress={() => onChange({ ...withoutTurns(repair) })}>
        No turns
      </Button>
    </>
  );
}

function nearest(turns: { startFrame: number; endFrame: number }[], frame: number): number {
  const distance = ({ startFrame, endFrame }: { startFrame: number; endFrame: number }): number =>
    frame < startFrame ? startFrame - frame : Math.max(0, frame - endFrame);
  return turns.reduce((best, turn, i) => (distance(turn) < distance(turns[best]) ? i : best), 0);
}

function Stepper({
  what,
  index,
  count,
  onChoose,
}: {
  what: string;
  index: number;
  count: number;
  onChoose: (index: number) => void;
}) {
  return (
    <Line>
      <Button aria-label="The one before" isDisabled={index === 0} onPress={() => onChoose(index - 1)}>
        ‹
      </Button>
      <Which role="status">
        {what} {index + 1} of {count}
      </Which>
      <Button aria-label="The next one" isDisabled={index >= count - 1} onPress={() => onChoose(index + 1)}>
        ›
      </Button>
    </Line>
  );
}

const Line = styled.div`display: flex; gap: 6px; align-items: center; button { flex: 1; font-size: 12.5px; min-height: 30px; padding: 3px 8px; }`;
const Which = styled.span`flex: 3; text-align: center; font-size: 12.5px; font-weight: 600;`;
const Hint = styled.p`font-size: 12px; color: var(--soft);`;
