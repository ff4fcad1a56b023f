import { ChevronDown, FolderInput, PackageCheck, Settings2, Trash2 } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Menu, MenuItem, MenuTrigger } from 'react-aria-components';
import { useNavigate } from 'react-router';
import styled from 'styled-components';
import type { LineupEntry } from '@pocket-twin/core/schema/lineup.ts';
import type { Setup } from '@pocket-twin/core/schema/setup.ts';
import { inBackground } from '../../parts/inBackground.ts';
import type { Lineup } from '../../state/useLineup.ts';
import { useAppDispatch, useAppSelector } from '../../state/store.ts';
import { Button } from '../../parts/Button.tsx';
import { Choices } from '../../parts/Field.tsx';
import { Key } from '../../parts/Key.tsx';
import { chosen, queueSet } from '../../state/lineupSlice.ts';
import { naturalOrder } from '@pocket-twin/core/setups/namePattern.ts';
import { JoinDialog } from './JoinDialog.tsx';
import { MoveDialog } from './MoveDialog.tsx';
import { RecipesDialog } from './recipes/RecipesDialog.tsx';
import { RenameDialog } from './RenameDialog.tsx';
import { SetupDialog } from './SetupDialog.tsx';
import { useRemoval } from './useRemoval.ts';
import { useSuggestions } from '../../state/useSuggestions.ts';

const NONE: string[] = [];

/** What can be done with the clips that are chosen. */
export function ChoiceBar({ projectId, lineup }: { projectId: string; lineup: Lineup }) {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const ids = useAppSelector((state) => state.lineup.chosen[projectId] ?? NONE);
  const entries = useMemo(() => ids.flatMap((id) => lineup.entries[id] ?? []), [ids, lineup.entries]);
  const remove = useRemoval(projectId);
  const [moving, setMoving] = useState(false);
  const [renaming, setRenaming] = useState(false);
  const [describing, setDescribing] = useState(false);
  const [recipes, setRecipes] = useState(false);
  const [joining, setJoining] = useState(false);
  if (entries.length === 0) return null;
  const setup = commonSetup(entries, lineup);
  const actions: Record<string, () => void> = {
    'hand-off': () => inBackground(navigate(`/projects/${projectId}/handoff`, { state: { which: 'chosen' } })),
    setup: () => setDescribing(true),
    move: () => setMoving(true),
    rename: () => setRenaming(true),
    join: () => setJoining(true),
    remove: () => remove(ids),
  };
  const first = entries.find(({ standing }) => standing !== 'measuring' && standing !== 'unreadable');
  const openBench = (): void => {
    dispatch(queueSet(ids.length > 1 ? ids : null));
    if (first) inBackground(navigate(`/projects/${projectId}/bench/${first.id}`));
  };
  return (
    <Bar aria-label="Chosen clips">
      <div>
        <strong>{entries.length === 1 ? '1 clip chosen' : `${entries.length} clips chosen`}</strong>
        <span>{whereFrom(entries, lineup)}</span>
      </div>
      <Button kind="plain" onPress={() => dispatch(chosen({ projectId, ids: [] }))} shortcut="choose-none">
        Choose none
      </Button>
      <MenuTrigger>
        <Button kind="plain" aria-label="More for the chosen clips">
          More
          <ChevronDown size={15} aria-hidden="true" />
        </Button>
        <Choices>
          <Menu aria-label="More for the chosen clips" onAction={(key) => actions[key]()}>
            <MenuItem id="hand-off" textValue="Hand off">
              <span>
                <PackageCheck size={15} aria-hidden="true" /> Hand off ...
              </span>
            </MenuItem>
            {setup && (
              <MenuItem id="setup" textValue="Setup">
                <span>
                  <Settings2 size={15} aria-hidden="true" /> {entries.length === 1 ? 'Its setup' : 'Their setup'} ...
                </span>
              </MenuItem>
            )}
            <MenuItem id="move" textValue="Move">
              <span>
                <FolderInput size={15} aria-hidden="true" /> Move to a setup ...
              </span>
            </MenuItem>
            {entries.length > 1 && (
              <MenuItem id="join" textValue="Join">
                <span>Join into one clip ...</span>
              </MenuItem>
            )}
            {entries.length === 1 && (
              <MenuItem id="rename" textValue="Rename">
                <span>Rename ...</span>
              </MenuItem>
            )}
            <MenuItem id="remove" textValue="Remove">
              <span>
                <Trash2 size={15} aria-hidden="true" /> Remove from the project
              </span>
              <Key of="remove" />
            </MenuItem>
          </Menu>
        </Choices>
      </MenuTrigger>
      <Button kind="plain" onPress={() => setRecipes(true)}>
        Recipe ...
      </Button>
      <Button kind="plain" isDisabled={!first} onPress={openBench}>
        Open on bench
      </Button>
      <SuggestionButtons projectId={projectId} ids={ids} entries={entries} />
      <MoveDialog projectId={projectId} clipIds={ids} setups={lineup.setups} isOpen={moving} onOpenChange={setMoving} />
      <JoinDialog projectId={projectId} clips={inOrder(entries)} isOpen={joining} onOpenChange={setJoining} />
      <RecipesDialog projectId={projectId} clipIds={ids} isOpen={recipes} onOpenChange={setRecipes} />
      {setup && (
        <SetupDialog
          projectId={projectId}
          setup={setup}
          others={lineup.setups.filter((other) => other !== setup)}
          isOpen={describing}
          onOpenChange={setDescribing}
        />
      )}
      {entries.length === 1 && <RenameDialog clip={entries[0]} isOpen={renaming} onOpenChange={setRenaming} />}
    </Bar>
  );
}

/** One press keeps the suggestion of each; where there are several, each alone is a press further. */
function SuggestionButtons({ projectId, ids, entries }: { projectId: string; ids: string[]; entries: LineupEntry[] }) {
  const { keepOn, isBusy } = useSuggestions(projectId);
  const counts = useMemo(() => {
    const found = new Map<string, number>();
    for (const { standing, suggestion } of entries)
      if (standing === 'open' && suggestion) found.set(suggestion, (found.get(suggestion) ?? 0) + 1);
    return [...found].sort(([, a], [, b]) => b - a);
  }, [entries]);
  if (counts.length === 0) return <Nothing>No suggestion left to use</Nothing>;
  const total = counts.reduce((sum, [, count]) => sum + count, 0);
  return (
    <>
      {counts.length > 1 && (
        <MenuTrigger>
          <Button kind="plain" aria-label="One suggestion alone">
            One of {counts.length}
            <ChevronDown size={15} aria-hidden="true" />
          </Button>
          <Choices>
            <Menu aria-label="One suggestion alone" onAction={(key) => keepOn(ids, String(key))}>
              {counts.map(([name, count]) => (
                <MenuItem key={name} id={name} textValue={name}>
                  {name} on {count}
                </MenuItem>
              ))}
            </Menu>
          </Choices>
        </MenuTrigger>
      )}
      <Button
        kind="plain"
        isDisabled={isBusy}
        shortcut="keep"
        onPress={() => keepOn(ids, counts.length === 1 ? counts[0][0] : null)}
      >
        <b>{counts.length === 1 ? `${counts[0][0]} on ${total}` : `Use each clip’s own suggestion on ${total}`}</b>
      </Button>
    </>
  );
}

/** By their names: a left before a right, track 2 before track 10. */
function inOrder(entries: LineupEntry[]): LineupEntry[] {
  return [...entries].sort((a, b) => naturalOrder(a.name, b.name));
}

/** The setup that all of them are in. */
function commonSetup(entries: LineupEntry[], { setups }: Lineup): Setup | undefined {
  const [home, ...others] = new Set(entries.map(({ setupId }) => setupId));
  return others.length === 0 ? setups.find(({ id }) => id === home) : undefined;
}

function whereFrom(entries: LineupEntry[], lineup: Lineup): string {
  const shown = new Set(lineup.order);
  const hidden = entries.filter(({ id }) => !shown.has(id)).length;
  const homes = new Set(entries.map(({ setupId }) => setupId));
  const setup = commonSetup(entries, lineup);
  const from = setup
    ? `${entries.length > 1 ? 'all ' : ''}from setup ${setup.name}`
    : homes.size > 1
      ? `from ${homes.size} setups`
      : '';
  return [from, hidden > 0 && `${hidden} not in this view`].filter(Boolean).join(', ');
}

const Bar = styled.section`
  display: flex; flex-wrap: wrap; align-items: center; gap: 9px; padding: 8px 8px 8px 18px; border-radius: 12px; background: var(--button); color: var(--button-text); flex: none; min-height: 52px;
  > div { flex: 1; min-width: 0; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; span { margin-left: 14px; opacity: 0.8; } }
  > button { background: color-mix(in srgb, var(--button-text) 14%, var(--button)); color: var(--button-text); border-color: transparent; }
  > button[data-hovered] { border-color: var(--button-text); }
  > button:last-of-type { background: var(--button-text); color: var(--button); }
  > button:has(b) { background: var(--button-text); color: var(--button); }
`;
const Nothing = styled.span`opacity: 0.8; padding: 0 12px; white-space: nowrap;`;
