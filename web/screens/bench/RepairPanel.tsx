import { TriangleAlert } from 'lucide-react';
import { Button as AriaButton, Radio, RadioGroup } from 'react-aria-components';
import styled from 'styled-components';
import { repairNote } from '@pocket-twin/core/repair/plan/repairNote.ts';
import { sameRepair } from '@pocket-twin/core/repair/plan/compare.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import type { Player } from '../../listen/player.ts';
import { Button } from '../../parts/Button.tsx';
import { OWN_KEY } from '../../parts/keys.ts';
import { Key } from '../../parts/Key.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { writeLabel, type BenchActions } from './benchActions.ts';
import { Cables } from './Cables.tsx';
import { useAppSelector } from '../../state/store.ts';
import { foundPlans } from './foundPlans.ts';
import { Numbers } from './Numbers.tsx';
import { SaveRecipe } from './plan/SaveRecipe.tsx';
import { PlanParts } from './plan/PlanParts.tsx';
import { repairChoices } from './repairChoices.ts';
import { WritePart } from './WritePart.tsx';
import { scrolls } from '../../parts/scrolls.ts';

/** The repair: choose, see its route and its numbers, keep it, write it. */
export function RepairPanel({ clip, actions, player }: { clip: Clip; actions: BenchActions; player: Player }) {
  const choices = repairChoices(clip);
  const { repair, main, isKept } = actions;
  const founds = foundPlans(clip).filter(({ isPlan }) => isPlan);
  const open = useAppSelector((state) => state.bench.open);
  const chosen = choices.find((choice) => sameRepair(choice.repair, repair));
  return (
    <Panel aria-label="Repair">
      <Scrolling>
        <h2>Repair</h2>
        <List
          aria-label="What to do with this clip"
          value={chosen?.id ?? null}
          onChange={(id) => actions.tryRepair(choices.find((choice) => choice.id === id)!.repair)}
        >
          {choices.map((choice) => (
            <Entry key={choice.id} value={choice.id} data-repair={choice.name}>
              <span>
                {choice.name}
                {choice.warning && (
                  <Warns title={choice.warning}>
                    <TriangleAlert size={13} aria-label={choice.warning} />
                  </Warns>
                )}
              </span>
              <Marks>
                {choice.suggested && <Suggested>suggested</Suggested>}
                <Key of={choice.id} />
              </Marks>
            </Entry>
          ))}
        </List>
        <Founds aria-label="What can be found on this clip" role="group">
          {founds.map(({ id, name, finds, suggested, isInForce }) => (
            <FoundButton
              key={id}
              isDisabled={actions.isFinding}
              onPress={() => actions.find(finds)}
              aria-pressed={isInForce(repair)}
              data-selected={isInForce(repair) || undefined}
              {...{ [OWN_KEY]: '' }}
            >
              <span>{name}</span>
              <Marks>
                {suggested && <Suggested>suggested</Suggested>}
                <Key of={id} />
              </Marks>
            </FoundButton>
          ))}
        </Founds>
        <Said role="status">
          {actions.isFinding ? 'Listening ...' : actions.notes.map((note) => <p key={note}>{note}</p>)}
        </Said>
        {chosen?.warning && <Notice tone="look">{chosen.warning}</Notice>}
        {!open.includes('routes') && repair.inputChannels <= 6 && <Cables repair={repair} />}
        <PlanParts clip={clip} actions={actions} player={player} />
        <Numbers clip={clip} repair={repair} />
        <SaveRecipe clip={clip} repair={repair} />
        <Note>{repairNote(repair, clip.inspection!)}</Note>
      </Scrolling>
      <Foot>
        {actions.trouble && <Notice tone="fix">{actions.trouble}</Notice>}
        {/* What is written is said to who does not see it. */}
        <div role="status">
          <WritePart clip={clip} writing={actions.writing} repair={repair} isKept={isKept} />
        </div>
        <Button kind="main" wide shortcut="main" isDisabled={main.isDisabled} onPress={main.run}>
          {main.label}
        </Button>
        {!isKept && (
          <Button
            wide
            shortcut="write"
            isDisabled={actions.isAwaited}
            onPress={actions.write}
          >{`Keep and ${writeLabel(repair)[0].toLowerCase()}${writeLabel(repair).slice(1)}`}</Button>
        )}
      </Foot>
    </Panel>
  );
}

const Panel = styled.aside`display: flex; flex-direction: column; min-height: 0; background: var(--sheet); border-left: 1px solid var(--line);`;
const Scrolling = styled.div`flex: 1; min-height: 0; ${scrolls} padding: 14px 16px; display: flex; flex-direction: column; gap: 10px; h2 { font-size: 17px; }`;
const List = styled(RadioGroup)`display: flex; flex-direction: column; gap: 1px;`;
const Entry = styled(Radio)`
  display: flex; align-items: center; justify-content: space-between; padding: 4px 9px; border-radius: 9px; cursor: pointer; border: 2px solid transparent; min-height: 29px;
  &[data-hovered] { background: var(--paper); }
  &[data-selected] { border-color: var(--ink); background: var(--paper); font-weight: 600; }
  @media (forced-colors: active) { &[data-selected] { border-color: Highlight; } }
  &[data-focus-visible] { outline: 2px solid var(--left); outline-offset: 1px; }
`;
const Founds = styled.div`display: flex; flex-direction: column; gap: 1px; margin-top: -9px;`;
const FoundButton = styled(AriaButton)`
  display: flex; align-items: center; justify-content: space-between; padding: 4px 9px; border-radius: 9px; cursor: pointer; border: 2px solid transparent; min-height: 29px; background: none; text-align: left;
  &[data-hovered] { background: var(--paper); }
  &[data-selected] { border-color: var(--ink); background: var(--paper); font-weight: 600; }
  &[data-disabled] { opacity: 0.5; }
`;
const Said = styled.div`font-size: 12.5px; color: var(--soft); display: grid; gap: 4px; &:empty { display: none; }`;
const Marks = styled.span`display: flex; gap: 8px; align-items: center; color: var(--soft);`;
const Warns = styled.span`color: var(--look); margin-left: 7px; svg { vertical-align: -2px; }`;
const Suggested = styled.span`font-size: 12px; font-weight: 500; color: var(--fine);`;
const Note = styled.p`font-size: 12.5px; color: var(--soft);`;
const Foot = styled.div`padding: 12px 16px 16px; display: flex; flex-direction: column; gap: 10px; border-top: 1px solid var(--line); > [role='status']:empty { display: none; }`;
