import { useMemo } from 'react';
import { useStore } from 'react-redux';
import { useNavigate } from 'react-router';
import { nextUndecided } from '@pocket-twin/core/lineup/standing.ts';
import { inBackground } from '../../parts/inBackground.ts';
import type { Lineup } from '../../state/useLineup.ts';
import { useAppDispatch, useAppSelector, type RootState } from '../../state/store.ts';
import type { ScreenKey } from '../../parts/keys.ts';
import { useServices } from '../../state/services.ts';
import { chosen } from '../../state/lineupSlice.ts';
import { useProjectHistory } from './useProjectHistory.ts';
import { useRemoval } from './useRemoval.ts';
import { useSuggestions } from './useSuggestions.ts';

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
    const own = (shown: string, does: string, group: ScreenKey['group']): ScreenKey => ({
      key: `shown only: ${shown}`,
      shown,
      does,
      group,
      run: () => undefined,
    });
    return [
      {
        key: 'h',
        shown: 'H',
        does: 'Hear the most telling ten seconds of a clip, or stop',
        group: 'Listen',
        run: () => {
          const row = store.getState().rows.byId[focused()[0] ?? chosenIds[0]];
          if (row) player.toggle(row);
        },
      },
      own('↑ ↓', 'Go from clip to clip; Home and End to the first and the last', 'Choose'),
      own('Space', 'Choose a clip, or all of a setup; once more takes it back', 'Choose'),
      own('Shift ↑ ↓', 'Choose a run of clips', 'Choose'),
      own('Ctrl A', 'Choose all in this view', 'Choose'),
      {
        key: 'k',
        shown: 'K',
        does: 'Keep the suggestion of each chosen clip, or of the one in focus',
        group: 'Repair',
        run: () => {
          const ids = chosenIds.length > 0 ? chosenIds : focused();
          if (ids.length > 0) keepOn(ids, null);
        },
      },
      own('→ ←', 'Unfold a clip to its channels, or a setup; fold it', 'Look'),
      own('Enter', 'Open on the bench', 'Go'),
      {
        key: 'n',
        shown: 'N',
        does: 'Open the next clip that is undecided',
        group: 'Go',
        run: () => {
          const order = lineup?.order ?? [];
          const next = nextUndecided(order, lineup?.entries ?? {}, current());
          if (next) inBackground(navigate(`/projects/${projectId}/bench/${next}`));
        },
      },
      {
        key: 'Escape',
        shown: 'Esc',
        does: 'Choose none',
        group: 'Choose',
        run: () => dispatch(chosen({ projectId, ids: [] })),
      },
      {
        key: 'Delete',
        shown: 'Del',
        does: 'Take the chosen clips out of the project',
        group: 'Choose',
        run: () => {
          if (chosenIds.length > 0) remove(chosenIds);
        },
      },
      {
        key: 'z',
        alsoCtrl: true,
        shown: 'Z',
        does: 'Take the last thing back that was done here',
        group: 'Repair',
        run: undo,
      },
      { key: 'Shift z', alsoCtrl: true, shown: 'Shift Z', does: 'Do it again', group: 'Repair', run: redo },
      {
        key: '/',
        shown: '/',
        does: 'Search',
        group: 'Look',
        run: () => document.querySelector<HTMLInputElement>('input[type="search"]')?.focus(),
      },
      { key: '?', shown: '?', does: 'Show these keys', group: 'Go', run: showKeys },
    ];
  }, [chosenIds, dispatch, lineup, navigate, player, projectId, redo, remove, showKeys, store, undo, keepOn]);
}
