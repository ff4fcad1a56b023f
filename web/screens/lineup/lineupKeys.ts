import { useMemo } from 'react';
import { useStore } from 'react-redux';
import { useAppDispatch, useAppSelector, type RootState } from '../../app/store.ts';
import type { ScreenKey } from '../../parts/keys.ts';
import { useLineupPlayer } from './lineupPlayer.ts';
import { chosen } from './lineupSlice.ts';
import { useUndo } from './NewsBar.tsx';
import { useRemoval } from './useRemoval.ts';

const NONE: string[] = [];

/** The lineup's keys. Moving and choosing are the table's own: arrows, Shift, Ctrl, Space. */
export function useLineupKeys(projectId: string, showKeys: () => void): ScreenKey[] {
  const dispatch = useAppDispatch();
  const store = useStore<RootState>();
  const player = useLineupPlayer();
  const remove = useRemoval(projectId);
  const news = useAppSelector((state) => state.lineup.news);
  const chosenIds = useAppSelector((state) => state.lineup.chosen[projectId] ?? NONE);
  const undo = useUndo(news);
  return useMemo(() => {
    const rowOf = (id: string | undefined) => (id ? store.getState().rows.byId[id] ?? undefined : undefined);
    const focused = (): string | undefined => document.activeElement?.closest<HTMLElement>('[data-clip-id]')?.dataset.clipId;
    const own = (shown: string, does: string, group: ScreenKey['group']): ScreenKey => ({ key: `shown only: ${shown}`, shown, does, group, run: () => undefined });
    return [
      { key: 'h', shown: 'H', does: 'Hear the most telling ten seconds of a clip, or stop', group: 'Listen', run: () => {
        const row = rowOf(focused() ?? chosenIds[0]);
        if (row) player.toggle(row);
      } },
      own('↑ ↓', 'Go from clip to clip', 'Choose'),
      own('Shift ↑ ↓', 'Choose a run of clips', 'Choose'),
      own('Ctrl Space', 'Choose one more, or one less', 'Choose'),
      own('Ctrl A', 'Choose all in this view', 'Choose'),
      own('→ ←', 'Unfold a clip to its channels, fold it', 'Look'),
      own('Enter', 'Open on the bench', 'Go'),
      { key: 'Escape', shown: 'Esc', does: 'Choose none', group: 'Choose', run: () => dispatch(chosen({ projectId, ids: [] })) },
      { key: 'Delete', shown: 'Del', does: 'Take the chosen clips out of the project', group: 'Choose', run: () => {
        if (chosenIds.length > 0) void remove(chosenIds, rowOf(chosenIds[0])?.name ?? '');
      } },
      { key: 'z', shown: 'Z', does: 'Take the last thing done to many clips back', group: 'Choose', run: () => undo?.() },
      { key: '/', shown: '/', does: 'Search', group: 'Look', run: () => document.querySelector<HTMLInputElement>('input[type="search"], input[placeholder="Search"]')?.focus() },
      { key: '?', shown: '?', does: 'Show these keys', group: 'Go', run: showKeys },
    ];
  }, [chosenIds, dispatch, player, projectId, remove, showKeys, store, undo]);
}
