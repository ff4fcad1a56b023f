import { useEffect, useMemo, useRef, type KeyboardEvent, type MouseEvent, type RefObject } from 'react';
import { useStore } from 'react-redux';
import { useNavigate } from 'react-router';
import { inBackground } from '../../../parts/inBackground.ts';
import type { Lineup } from '../../../state/useLineup.ts';
import { useAppDispatch, type RootState } from '../../../state/store.ts';
import { useServices } from '../../../state/services.ts';
import { chosen, folding, lineMadeCurrent, queueSet, unfolding } from '../../../state/lineupSlice.ts';
import { clipsBetween, type TableLine } from './tableLines.ts';

interface TableOf {
  projectId: string;
  lineup: Lineup;
  lines: TableLine[];
  /** The line that is gone on from. */
  current: number;
  chosenIds: string[];
  scroller: RefObject<HTMLDivElement | null>;
  show: (index: number) => void;
}

const PAGE_LINES = 10;

/** What pointer and keyboard do in the table (WAI-ARIA Authoring Practices, tree grid). */
export function useTableActions(table: TableOf) {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const store = useStore<RootState>();
  const { lineupPlayer: player } = useServices();
  const latest = useRef(table);
  latest.current = table;
  /** Where a run of choices began. */
  const anchor = useRef<string | null>(null);
  const wantsFocus = useRef(false);
  useEffect(() => {
    if (!wantsFocus.current) return;
    const element = focusable(table.scroller.current, table.lines[table.current]?.key);
    if (!element) return;
    wantsFocus.current = false;
    element.focus({ preventScroll: true });
  });

  return useMemo(() => {
    const focusLine = (index: number): void => {
      const { projectId, lines, scroller, show } = latest.current;
      const line = lines[Math.max(0, Math.min(lines.length - 1, index))];
      if (!line) return;
      dispatch(lineMadeCurrent({ projectId, line: line.key }));
      show(lines.indexOf(line));
      wantsFocus.current = true;
      // Where it is drawn already nothing needs waiting for.
      focusable(scroller.current, line.key)?.focus({ preventScroll: true });
    };
    const choose = (ids: string[], keepHidden = true): void => {
      const { projectId, chosenIds, lineup } = latest.current;
      const inSight = new Set(lineup.order);
      // What the filter hides stays chosen.
      dispatch(
        chosen({
          projectId,
          ids: [...(keepHidden ? chosenIds.filter((id) => !inSight.has(id)) : []), ...new Set(ids)],
        }),
      );
    };
    const chosenInSight = (): string[] => {
      const { chosenIds, lineup } = latest.current;
      const inSight = new Set(lineup.order);
      return chosenIds.filter((id) => inSight.has(id));
    };
    const toggle = (line: TableLine): void => {
      const ids = line.kind === 'setup' ? line.clipIds : line.kind === 'clip' ? [line.clipId] : [];
      const now = new Set(chosenInSight());
      const all = ids.every((id) => now.has(id));
      for (const id of ids)
        if (all) now.delete(id);
        else now.add(id);
      if (line.kind === 'clip') anchor.current = line.key;
      choose([...now]);
    };
    const chooseRun = (to: number): void => {
      const { lines, current } = latest.current;
      const from = lines.findIndex(({ key }) => key === anchor.current);
      if (from < 0) anchor.current = lines[current]?.key ?? null;
      choose(clipsBetween(lines, from < 0 ? current : from, to));
    };
    const fold = (line: TableLine): void => {
      if (line.kind === 'setup') dispatch(folding({ setupId: line.key, isFolded: line.open }));
      else if (line.kind === 'clip') dispatch(unfolding({ clipId: line.clipId, isUnfolded: !line.open }));
    };
    const open = (line: TableLine): void => {
      const { projectId, lineup } = latest.current;
      if (line.kind === 'setup') return fold(line);
      const row = store.getState().rows.byId[line.clipId];
      if (line.kind === 'channel') {
        if (row) player.toggle(row, line.channel);
        return;
      }
      const standing = lineup.entries[line.clipId]?.standing;
      if (standing === 'measuring' || standing === 'unreadable') return;
      dispatch(queueSet(null));
      inBackground(navigate(`/projects/${projectId}/bench/${line.clipId}`));
    };
    const press = (line: TableLine, event: MouseEvent): void => {
      const { projectId, lines } = latest.current;
      const index = lines.findIndex(({ key }) => key === line.key);
      dispatch(lineMadeCurrent({ projectId, line: line.key }));
      if (event.target instanceof Element && event.target.closest('a')) dispatch(queueSet(null));
      if (line.kind !== 'clip' || (event.target instanceof Element && event.target.closest('button, a'))) return;
      if (event.shiftKey) chooseRun(index);
      else if (event.ctrlKey || event.metaKey) toggle(line);
      else {
        anchor.current = line.key;
        choose([line.clipId], false);
      }
    };
    const right = (line: TableLine, index: number): void => {
      if (line.kind === 'channel') return;
      if (line.open) focusLine(index + 1);
      else fold(line);
    };
    const left = (line: TableLine, index: number): void => {
      const { lines } = latest.current;
      if (line.kind !== 'channel' && line.open) return fold(line);
      let parent = index - 1;
      while (parent >= 0 && lines[parent].level >= line.level) parent--;
      if (parent >= 0) focusLine(parent);
    };
    const keyDown = (event: KeyboardEvent): void => {
      const { lines, current, lineup } = latest.current;
      const line = lines[current];
      const onRow = event.target instanceof Element && event.target.getAttribute('role') === 'row';
      if (!line || event.altKey || (event.target instanceof Element && event.target.closest('.head'))) return;
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'a') {
        event.preventDefault();
        return choose(lineup.order);
      }
      const steps: Record<string, number> = {
        ArrowDown: current + 1,
        ArrowUp: current - 1,
        Home: 0,
        End: lines.length - 1,
        PageDown: current + PAGE_LINES,
        PageUp: current - PAGE_LINES,
      };
      const done = (): void => {
        event.preventDefault();
        event.stopPropagation();
      };
      if (event.key in steps) {
        const to = Math.max(0, Math.min(lines.length - 1, steps[event.key]));
        if (event.shiftKey) chooseRun(to);
        focusLine(to);
        return done();
      }
      // Enter and Space on a button of the line are the button's.
      if (!onRow) return;
      if (event.key === 'ArrowRight') right(line, current);
      else if (event.key === 'ArrowLeft') left(line, current);
      else if (event.key === ' ') {
        if (line.kind === 'channel') open(line);
        else toggle(line);
      } else if (event.key === 'Enter') open(line);
      else return;
      done();
    };
    return { focusLine, keyDown, pointer: { press, open, fold, toggle } };
  }, [dispatch, navigate, player, store]);
}

function focusable(scroller: HTMLElement | null, key: string | undefined): HTMLElement | null {
  return key === undefined ? null : (scroller?.querySelector<HTMLElement>(`[data-line="${key}"]`) ?? null);
}
