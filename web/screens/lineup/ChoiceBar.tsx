import { ChevronDown, FolderInput, Settings2, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { Menu, MenuItem, MenuTrigger } from 'react-aria-components';
import { useNavigate } from 'react-router';
import styled from 'styled-components';
import type { Lineup, LineupRow } from '@pocket-twin/core/schema/lineup.ts';
import type { Setup } from '@pocket-twin/core/schema/setup.ts';
import { sentenceOf, useUseSuggestionMutation } from '../../api/api.ts';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { Button } from '../../parts/Button.tsx';
import { Choices } from '../../parts/Field.tsx';
import { chosen, newsCame, queueSet } from './lineupSlice.ts';
import { MoveDialog } from './MoveDialog.tsx';
import { RenameDialog } from './RenameDialog.tsx';
import { SetupDialog } from './SetupDialog.tsx';
import { useRemoval } from './useRemoval.ts';
import { useRowsFetched } from './useRow.ts';

const NONE: string[] = [];

/** What can be done with the clips that are chosen. */
export function ChoiceBar({ projectId, lineup }: { projectId: string; lineup: Lineup }) {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const ids = useAppSelector((state) => state.lineup.chosen[projectId] ?? NONE);
  const rows = useChosenRows(projectId, ids);
  const remove = useRemoval(projectId);
  const [moving, setMoving] = useState(false);
  const [renaming, setRenaming] = useState(false);
  const [describing, setDescribing] = useState(false);
  if (ids.length === 0) return null;
  const setup = commonSetup(rows, lineup);
  const actions: Record<string, () => void> = {
    setup: () => setDescribing(true), move: () => setMoving(true), rename: () => setRenaming(true), remove: () => void remove(ids, rows[0]?.name ?? ''),
  };
  const first = rows.find(({ state }) => state === 'ready');
  const openBench = (): void => {
    dispatch(queueSet(ids.length > 1 ? ids : null));
    if (first) void navigate(`/projects/${projectId}/bench/${first.id}`);
  };
  return (
    <Bar aria-label="Chosen clips">
      <div>
        <strong>{ids.length === 1 ? '1 clip chosen' : `${ids.length} clips chosen`}</strong>
        <span>{whereFrom(rows, ids, lineup)}</span>
      </div>
      <Button kind="plain" onPress={() => dispatch(chosen({ projectId, ids: [] }))} shortcut="Esc">Choose none</Button>
      <MenuTrigger>
        <Button kind="plain" aria-label="More for the chosen clips">More<ChevronDown size={15} aria-hidden="true" /></Button>
        <Choices>
          <Menu aria-label="More for the chosen clips" onAction={(key) => actions[key]()}>
            {setup && <MenuItem id="setup" textValue="Setup"><span>{ids.length === 1 ? 'Its setup ...' : 'Their setup ...'}</span><Settings2 size={15} aria-hidden="true" /></MenuItem>}
            <MenuItem id="move" textValue="Move to a setup"><span>Move to a setup ...</span><FolderInput size={15} aria-hidden="true" /></MenuItem>
            {ids.length === 1 && <MenuItem id="rename" textValue="Rename">Rename ...</MenuItem>}
            <MenuItem id="remove" textValue="Remove from the project"><span>Remove from the project</span><Trash2 size={15} aria-hidden="true" /></MenuItem>
          </Menu>
        </Choices>
      </MenuTrigger>
      <Button kind="plain" isDisabled={!first} onPress={openBench}>Open on bench</Button>
      <SuggestionButtons projectId={projectId} ids={ids} rows={rows} />
      <MoveDialog projectId={projectId} clipIds={ids} setups={lineup.setups} isOpen={moving} onOpenChange={setMoving} />
      {setup && <SetupDialog projectId={projectId} setup={setup} others={lineup.setups.filter((other) => other !== setup)} isOpen={describing} onOpenChange={setDescribing} />}
      {rows.length === 1 && <RenameDialog row={rows[0]} isOpen={renaming} onOpenChange={setRenaming} />}
    </Bar>
  );
}

/** One press for the suggestion that most of the chosen clips have; the others are a press further. */
function SuggestionButtons({ projectId, ids, rows }: { projectId: string; ids: string[]; rows: LineupRow[] }) {
  const dispatch = useAppDispatch();
  const [keepSuggestion, { isLoading }] = useUseSuggestionMutation();
  const counts = new Map<string, number>();
  for (const { summary, kept } of rows) if (summary?.suggestion.name && !kept) counts.set(summary.suggestion.name, (counts.get(summary.suggestion.name) ?? 0) + 1);
  const [most, ...others] = [...counts].sort(([, a], [, b]) => b - a);
  const take = async (suggestion: string): Promise<void> => {
    const answer = await keepSuggestion({ projectId, clipIds: ids, suggestion });
    dispatch(newsCame('data' in answer && answer.data
      ? { kind: 'suggestion', projectId, used: answer.data, suggestion }
      : { kind: 'said', projectId, tone: 'fix', sentence: sentenceOf(answer.error) }));
  };
  if (!most) return <Nothing>No suggestion left to use</Nothing>;
  const on = (count: number): string => (count === 1 ? 'on 1' : `on ${count}`);
  return (
    <>
      {others.length > 0 && (
        <MenuTrigger>
          <Button kind="plain" aria-label="Other suggestions of the chosen clips">Other suggestions<ChevronDown size={15} aria-hidden="true" /></Button>
          <Choices>
            <Menu aria-label="Other suggestions" onAction={(key) => void take(String(key))}>
              {others.map(([name, count]) => <MenuItem key={name} id={name} textValue={name}>{name} {on(count)}</MenuItem>)}
            </Menu>
          </Choices>
        </MenuTrigger>
      )}
      <Button kind="plain" isDisabled={isLoading} onPress={() => void take(most[0])}><b>{most[0]} {on(most[1])}</b></Button>
    </>
  );
}

/** The rows of the chosen clips; those that were never in sight are fetched. */
function useChosenRows(projectId: string, ids: string[]): LineupRow[] {
  const rowOf = useRowsFetched(projectId, ids);
  return ids.flatMap((id) => rowOf(id) ?? []);
}

/** The setup that all of the rows are in. */
function commonSetup(rows: LineupRow[], { setups }: Lineup): Setup | undefined {
  const [home, ...others] = new Set(rows.map(({ setupId }) => setupId));
  return others.length === 0 ? setups.find(({ id }) => id === home) : undefined;
}

function whereFrom(rows: LineupRow[], ids: string[], lineup: Lineup): string {
  const shown = new Set(lineup.groups.flatMap((group) => group.ids));
  const hidden = ids.filter((id) => !shown.has(id)).length;
  const homes = new Set(rows.map(({ setupId }) => setupId));
  const setup = commonSetup(rows, lineup);
  const from = setup ? `${ids.length > 1 ? 'all ' : ''}from setup ${setup.name}` : homes.size > 1 ? `from ${homes.size} setups` : '';
  return [from, hidden > 0 && `${hidden} not in this view`].filter(Boolean).join(', ');
}

const Bar = styled.section`
  display: flex; align-items: center; gap: 9px; padding: 8px 8px 8px 18px; border-radius: 12px; background: var(--button); color: var(--button-text); flex: none; min-height: 52px;
  > div { flex: 1; min-width: 0; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; span { margin-left: 14px; opacity: 0.8; } }
  > button { background: color-mix(in srgb, var(--button-text) 14%, var(--button)); color: var(--button-text); border-color: transparent; }
  > button[data-hovered] { border-color: var(--button-text); }
  > button:last-of-type { background: var(--button-text); color: var(--button); }
  > button:has(b) { background: var(--button-text); color: var(--button); }
`;
const Nothing = styled.span`opacity: 0.8; padding: 0 12px; white-space: nowrap;`;
