import { useMemo } from 'react';
import { useStore } from 'react-redux';
import { useNavigate } from 'react-router';
import { nextUndecided } from '@pocket-twin/core/lineup/standing.ts';
import { inBackground } from '../../parts/inBackground.ts';
import type { Lineup } from '../../state/useLineup.ts';
import { useAppDispatch, useAppSelector, type RootState } from '../../state/store.ts';
import type { ScreenKey } from '../../parts/keyNames.ts';
import { useServices } from '../../state/services.ts';
import { chosen } from '../../state/lineupSlice.ts';
import { useProjectHistory } from './useProjectHistory.ts';
import { useRemoval } from './useRemoval.ts';
import { useSuggestions } from '../../state/useSuggestions.ts';

const NONE: string[] = [];

/** The lineup's keys. Moving and choosing are the table's own: arrows, Shift, Ctrl, Space. */
export function useLineupKeys(projectId: string, lineup: Lineup | undefined, showKeys: () => void): ScreenKey[] {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const store = useStore<RootState>();
  const { lineupPlayer: player } = useServices();
  const remove = useRemoval(projectId);
  const chosenIds = useAppSelector((state) => state.lineup.chosen[projectId] ?? NONE);
  const { undo, redo } = useProjectHistory(projectId);
  const { keepOn } = useSuggestions(projectId);
  return useMemo(() => {
    const current = (): string | undefined => store.getState().lineup.places[projectId]?.line;
    /** The clips of the line that has the focus. */
    const focused = (): string[] => {
      const line = current()?.split(':')[0];
      if (line === undefined || !lineup) return [];
      return lineup.entries[line] ? [line] : (lineup.groups.find(({ setupId }) => setupId === line)?.ids ?? []);
    };
    const own = (heardElsewhere: string[], shown: string, does: string, group: ScreenKey['group']): ScreenKey => ({
      id: `table-${shown}`,
      key: '',
      heardElsewhere,
      shown,
      does,
      group,
      fixed: 'Moving and choosing in a table is the same everywhere.',
      run: () => undefined,
    });
    return [
      {
        id: 'hear',
        key: 'h',
        does: 'Hear the most telling ten seconds of a clip, or stop',
        group: 'Listen',
        run: () => {
          const row = store.getState().rows.byId[focused()[0] ?? chosenIds[0]];
          if (row) player.toggle(row);
        },
      },
      own(
        ['ArrowUp', 'ArrowDown', 'Home', 'End', 'PageUp', 'PageDown'],
        '↑ ↓',
        'Go from clip to clip; Home and End to the first and the last',
        'Choose',
      ),
      own([' '], 'Space', 'Choose a clip, or all of a setup; once more takes it back', 'Choose'),
      own([], 'Shift ↑ ↓', 'Choose a run of clips', 'Choose'),
      own([], 'Ctrl A', 'Choose all in this view', 'Choose'),
      {
        id: 'keep',
        key: 'k',
        does: 'Keep the suggestion of each chosen clip, or of the one in focus',
        group: 'Repair',
        run: () => {
          const ids = chosenIds.length > 0 ? chosenIds : focused();
          if (ids.length > 0) keepOn(ids, null);
        },
      },
      own(['ArrowLeft', 'ArrowRight'], '→ ←', 'Unfold a clip to its channels, or a setup; fold it', 'Look'),
      own(['Enter'], 'Enter', 'Open on the bench', 'Go'),
      {
        id: 'next-undecided',
        key: 'n',
        does: 'Open the next clip that is undecided',
        group: 'Go',
        run: () => {
          const order = lineup?.order ?? [];
          const next = nextUndecided(order, lineup?.entries ?? {}, current());
          if (next) inBackground(navigate(`/projects/${projectId}/bench/${next}`));
        },
      },
      {
        id: 'choose-none',
        key: 'Escape',
        fixed: 'Esc leaves things everywhere.',
        does: 'Choose none',
        group: 'Choose',
        run: () => dispatch(chosen({ projectId, ids: [] })),
      },
      {
        id: 'remove',
        key: 'Delete',
        does: 'Take the chosen clips out of the project',
        group: 'Choose',
        run: () => {
          if (chosenIds.length > 0) remove(chosenIds);
        },
      },
      {
        id: 'undo',
        key: 'z',
        withCtrl: 'z',
        does: 'Take the last thing back that was done here',
        group: 'Repair',
        run: undo,
      },
      { id: 'redo', key: 'Shift z', withCtrl: 'Shift z', does: 'Do it again', group: 'Repair', run: redo },
      {
        id: 'search',
        key: '/',
        does: 'Search',
        group: 'Look',
        run: () => document.querySelector<HTMLInputElement>('input[type="search"]')?.focus(),
      },
      { id: 'keys', key: '?', does: 'Show these keys, and change them', group: 'Go', run: showKeys },
    ];
  }, [chosenIds, dispatch, lineup, navigate, player, projectId, redo, remove, showKeys, store, undo, keepOn]);
}
