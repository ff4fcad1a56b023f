import { useVirtualizer, defaultRangeExtractor, type Range } from '@tanstack/react-virtual';
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import type { Lineup } from '../../../state/useLineup.ts';
import { useAppDispatch, useAppSelector } from '../../../state/store.ts';
import { useElementSize } from '../../../parts/useElementSize.ts';
import { placeKept } from '../../../state/lineupSlice.ts';
import { COLUMNS } from './columns.tsx';
import { TableHead } from './TableHead.tsx';
import { LineOfTable, type LineContext } from './LineOfTable.tsx';
import { fittingColumns } from '../../../state/shownColumns.ts';
import { tableLines, type TableLine } from './tableLines.ts';
import { HEAD_PIXELS, LINE_PIXELS, TableFrame } from './tableStyle.ts';
import { useTableActions } from './useTableActions.ts';

interface LineupTableProps {
  projectId: string;
  lineup: Lineup;
}

const NONE: string[] = [];
const FETCHED_TOGETHER = 100;
const DRAWN_BEYOND = 4;
const LINES_A_FRAME = 6;
// The tallest screens show fewer.
const MOST_LINES_IN_SIGHT = 120;
// Of the frame's border and a scroll bar.
const EDGES_PIXELS = 16;

/**
 * All clips of a project, grouped by setup: a tree grid (WAI-ARIA 1.2) of which only what is in sight is drawn. Not React Aria's own table: it builds
 * every row of thousands anew whenever they are filtered or sorted, which takes it a second.
 */
export function LineupTable({ projectId, lineup }: LineupTableProps) {
  const dispatch = useAppDispatch();
  const { query, grouped, folded, unfolded, columns } = useAppSelector((state) => state.lineup);
  const place = useAppSelector((state) => state.lineup.places[projectId]);
  const chosenIds = useAppSelector((state) => state.lineup.chosen[projectId] ?? NONE);
  const chosen = useMemo(() => new Set(chosenIds), [chosenIds]);
  const lines = useMemo(() => tableLines(lineup, { grouped, folded, unfolded }), [lineup, grouped, folded, unfolded]);
  const setups = useMemo(() => new Map(lineup.setups.map((setup) => [setup.id, setup])), [lineup.setups]);
  const around = useNeighbours(lineup.order);

  const frame = useRef<HTMLDivElement>(null);
  const { width } = useElementSize(frame);
  const fitting = useMemo(
    () => fittingColumns(columns, width - EDGES_PIXELS, (id) => COLUMNS[id].pixels),
    [columns, width],
  );
  const template = useMemo(() => `46px ${fitting.map(({ pixels }) => `${pixels}px`).join(' ')}`, [fitting]);

  const currentKey = place?.line ?? lines[0]?.key;
  const current = Math.max(
    0,
    lines.findIndex(({ key }) => key === currentKey),
  );
  // The line that has the focus stays drawn wherever the list is scrolled to.
  const range = useCallback(
    (shown: Range) =>
      [...new Set([...defaultRangeExtractor(shown), current])].filter((i) => i < lines.length).sort((a, b) => a - b),
    [current, lines.length],
  );
  const scroller = useRef<HTMLDivElement>(null);
  const virtualizer = useVirtualizer({
    count: lines.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => LINE_PIXELS,
    getItemKey: (i) => lines[i].key,
    overscan: DRAWN_BEYOND,
    rangeExtractor: range,
    initialOffset: place?.top ?? 0,
    scrollPaddingStart: HEAD_PIXELS,
    paddingStart: HEAD_PIXELS,
    useFlushSync: false,
  });
  const actions = useTableActions({
    projectId,
    lineup,
    lines,
    current,
    chosenIds,
    scroller,
    show: (index) => virtualizer.scrollToIndex(index, { align: 'auto' }),
  });

  // Whoever comes back from a clip goes on where they left.
  useLayoutEffect(() => {
    if (place && scroller.current) scroller.current.scrollTop = place.top;
    if (place?.comesBack) actions.focusLine(current);
    // Once, when the table comes up.
  }, []);
  useEffect(() => {
    const element = scroller.current;
    return () => {
      dispatch(placeKept({ projectId, top: element?.scrollTop ?? 0 }));
    };
  }, [dispatch, projectId]);

  const isDrawn = useDrawnByAndBy(current);
  const context = useMemo(
    (): LineContext => ({ projectId, setups, columns: fitting, template, around, ...actions.pointer }),
    [actions.pointer, around, fitting, projectId, setups, template],
  );
  const entryOf = (line: TableLine) => (line.kind === 'setup' ? undefined : lineup.entries[line.clipId]);
  return (
    <TableFrame ref={frame}>
      <div
        ref={scroller}
        role="treegrid"
        aria-label="Clips"
        aria-multiselectable="true"
        aria-rowcount={lines.length + 1}
        aria-colcount={fitting.length + 1}
        onKeyDown={actions.keyDown}
        data-shown={lineup.shown}
        data-sorted-by={query.sort}
        className="scroller"
      >
        <div
          role="presentation"
          style={{
            height: virtualizer.getTotalSize(),
            minWidth: fitting.reduce((sum, { pixels }) => sum + pixels, 46),
          }}
        >
          <TableHead columns={fitting} template={template} order={lineup.order} chosen={chosen} projectId={projectId} />
          <div role="rowgroup">
            {virtualizer
              .getVirtualItems()
              .filter(isDrawn)
              .map(({ index, start, key }) => (
                <LineOfTable
                  key={key}
                  line={lines[index]}
                  index={index}
                  top={start}
                  isCurrent={index === current}
                  isChosen={lines[index].kind === 'clip' && chosen.has(lines[index].key)}
                  entry={entryOf(lines[index])}
                  context={context}
                />
              ))}
          </div>
        </div>
      </div>
    </TableFrame>
  );
}

/** A table that comes up draws a few of its lines in each frame: a screen full of them at once would hold up keys and whatever else waits. */
function useDrawnByAndBy(current: number): (item: { index: number }, place: number) => boolean {
  const [drawn, setDrawn] = useState(LINES_A_FRAME);
  useEffect(() => {
    if (drawn >= MOST_LINES_IN_SIGHT) return;
    const frame = requestAnimationFrame(() => setDrawn((count) => count + LINES_A_FRAME));
    return () => cancelAnimationFrame(frame);
  }, [drawn]);
  // The line that has the focus is there from the first.
  return (item, place) => place < drawn || item.index === current;
}

/** The clips that come into sight with one, in the order of the list; the same function whatever the order is. */
function useNeighbours(order: string[]): (id: string) => readonly string[] {
  const chunks = useMemo(() => {
    const byId = new Map<string, string[]>();
    for (let at = 0; at < order.length; at += FETCHED_TOGETHER) {
      const chunk = order.slice(at, at + FETCHED_TOGETHER);
      for (const id of chunk) byId.set(id, chunk);
    }
    return byId;
  }, [order]);
  const latest = useRef(chunks);
  useLayoutEffect(() => {
    latest.current = chunks;
  }, [chunks]);
  return useCallback((id: string) => latest.current.get(id) ?? [id], []);
}
