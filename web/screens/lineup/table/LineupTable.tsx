import { ChevronRight, Minus, Square, SquareCheck } from 'lucide-react';
import { useCallback, useLayoutEffect, useMemo, useRef } from 'react';
import {
  Button, Cell, Checkbox, Collection, Column, ColumnResizer, ResizableTableContainer, Row, Table, TableBody, TableHeader, Virtualizer, type Key, type Selection,
} from 'react-aria-components';
import { useStore } from 'react-redux';
import { useNavigate } from 'react-router';
import type { Lineup } from '@pocket-twin/core/schema/lineup.ts';
import type { Setup } from '@pocket-twin/core/schema/setup.ts';
import { useAppDispatch, useAppSelector, type RootState } from '../../../app/store.ts';
import { chosen, columnsShown, expanded, queueSet, sorted } from '../lineupSlice.ts';
import { useRow, useRowFetched } from '../useRow.ts';
import { ChannelRowContent, Fact } from './cells.tsx';
import { COLUMNS } from './columns.tsx';
import { SetupRowContent, type GatheredClips } from './SetupRowContent.tsx';
import { rememberColumns, type ColumnId } from './shownColumns.ts';
import { SteadyTableLayout } from './SteadyTableLayout.ts';
import { ON_THEIR_OWN, TableItems, WITHOUT_SETUP, type ChannelItem, type ClipItem, type SetupItem } from './tableItems.ts';
import { ROW_HEIGHT, TableFrame } from './tableStyle.ts';
import { useScrollSteps } from './useScrollSteps.ts';

interface LineupTableProps {
  projectId: string;
  lineup: Lineup;
}

const NONE: string[] = [];
const FETCHED_TOGETHER = 100;

/** All clips of a project, grouped by setup, in React Aria's own table and virtualizer: only what is in sight is drawn. */
export function LineupTable({ projectId, lineup }: LineupTableProps) {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const store = useStore<RootState>();
  const { query, grouped, folded, unfolded, columns } = useAppSelector((state) => state.lineup);
  const chosenIds = useAppSelector((state) => state.lineup.chosen[projectId] ?? NONE);
  const frame = useRef<HTMLDivElement>(null);
  useScrollSteps(frame);
  const items = useRef(new TableItems());
  const setups = useMemo(() => new Map(lineup.setups.map((setup) => [setup.id, setup])), [lineup.setups]);
  const rows = useMemo(() => {
    const open = new Set(unfolded);
    const channelsOf = (id: string): number => (open.has(id) ? store.getState().rows.byId[id]?.summary?.channels.length ?? 0 : 0);
    const isLone = (id: string): boolean => setups.get(id)?.clips === 1 && !setups.get(id)!.named;
    return grouped ? items.current.grouped(lineup.groups, channelsOf, isLone) : items.current.flat(lineup.groups, channelsOf);
  }, [grouped, lineup.groups, setups, store, unfolded]);
  const setupIds = useMemo(() => rows.flatMap((row) => (row.kind === 'setup' ? [row.id] : [])), [rows]);
  const around = useNeighbours(lineup.groups);
  const expandedKeys = useMemo(() => new Set([...setupIds.filter((id) => !folded.includes(id)), ...unfolded]), [folded, setupIds, unfolded]);

  // React Aria's own set also knows where a run of choices began; it is handed back for as long as it says what is chosen.
  const lastSelection = useRef<Selection>(new Set());
  const selectedKeys = useMemo(() => {
    const last = lastSelection.current;
    return last !== 'all' && last.size === chosenIds.length && chosenIds.every((id) => last.has(id)) ? last : new Set(chosenIds);
  }, [chosenIds]);
  const choose = (selection: Selection): void => {
    lastSelection.current = selection;
    const shown = lineup.groups.flatMap(({ ids }) => ids);
    const inSight = new Set(shown);
    const now = selection === 'all' ? shown : shown.filter((id) => selection.has(id));
    // What the filter hides stays chosen.
    dispatch(chosen({ projectId, ids: [...chosenIds.filter((id) => !inSight.has(id)), ...now] }));
  };
  const act = (key: Key): void => {
    const id = String(key);
    if (setupIds.includes(id) || id.includes(':')) return;
    dispatch(queueSet(null));
    void navigate(`/projects/${projectId}/bench/${id}`);
  };
  const keepWidths = (widths: Map<Key, unknown>): void => {
    const changed = Object.fromEntries([...widths].filter(([id, width]) => columns.order.includes(id as ColumnId) && typeof width === 'number')) as Partial<Record<ColumnId, number>>;
    const next = { ...columns, widths: { ...columns.widths, ...changed } };
    dispatch(columnsShown(next));
    rememberColumns(next);
  };
  const context: RowContext = { projectId, setups, order: columns.order, around };
  return (
    <TableFrame ref={frame}>
      <ResizableTableContainer onResizeEnd={keepWidths}>
        <Virtualizer layout={SteadyTableLayout} layoutOptions={{ rowHeight: ROW_HEIGHT, headingHeight: 36 }}>
          <Table
            aria-label="Clips" selectionMode="multiple" selectionBehavior="replace" selectedKeys={selectedKeys} onSelectionChange={choose} onRowAction={act} disabledBehavior="selection"
            sortDescriptor={{ column: query.sort, direction: query.descending ? 'descending' : 'ascending' }}
            onSortChange={({ column, direction }) => {
              const { sort } = COLUMNS[column as ColumnId];
              if (sort) dispatch(sorted({ column: sort, descending: direction === 'descending' }));
            }}
            treeColumn="name" expandedKeys={expandedKeys}
            onExpandedChange={(keys) => dispatch(expanded({ open: [...keys].map(String), setups: setupIds }))}
          >
            <TableHeader>
              <Column width={46} minWidth={46}><ChooseBox name="Choose all" /></Column>
              <Collection items={columns.order.map((id) => ({ id }))} dependencies={[columns]}>
                {({ id }) => {
                  const { title, width, sort, numeric, quiet } = COLUMNS[id];
                  return (
                    <Column id={id} isRowHeader={id === 'name'} allowsSorting={sort !== null} minWidth={48} defaultWidth={id === 'what' && !columns.widths.what ? '1fr' : columns.widths[id] ?? width} textValue={title}>
                      {({ sortDirection }) => (
                        <div className={numeric ? 'heading numbers' : 'heading'}>
                          <span className={quiet ? 'quiet' : undefined}>{title}</span>
                          {sortDirection && <span aria-hidden="true">{sortDirection === 'ascending' ? '↑' : '↓'}</span>}
                          <ColumnResizer aria-label={`Width of ${title}`} />
                        </div>
                      )}
                    </Column>
                  );
                }}
              </Collection>
            </TableHeader>
            <TableBody items={rows as (SetupItem | ClipItem)[]} dependencies={[columns.order, setups, projectId]}>
              {(item) => (item.kind === 'setup' ? setupRow(item, context) : clipRow(item, context))}
            </TableBody>
          </Table>
        </Virtualizer>
      </ResizableTableContainer>
    </TableFrame>
  );
}

type Neighbours = (id: string) => readonly string[];

/** The clips that come into sight with one, in the order of the list; the same function whatever the order is. */
function useNeighbours(groups: Lineup['groups']): Neighbours {
  const chunks = useMemo(() => {
    const ids = groups.flatMap((group) => group.ids);
    const byId = new Map<string, string[]>();
    for (let at = 0; at < ids.length; at += FETCHED_TOGETHER) {
      const chunk = ids.slice(at, at + FETCHED_TOGETHER);
      for (const id of chunk) byId.set(id, chunk);
    }
    return byId;
  }, [groups]);
  const latest = useRef(chunks);
  useLayoutEffect(() => { latest.current = chunks; }, [chunks]);
  return useCallback((id: string) => latest.current.get(id) ?? [id], []);
}

interface RowContext {
  projectId: string;
  setups: Map<string, Setup>;
  order: ColumnId[];
  /** What is fetched together with a clip's row. */
  around: Neighbours;
}

/** What stands together without being one setup. */
const GATHERED: Record<string, GatheredClips> = {
  [ON_THEIR_OWN]: { name: 'On their own', explanation: 'Nothing else here was recorded the same way.' },
  [WITHOUT_SETUP]: { name: 'In no setup', explanation: 'Not measured yet, or not readable.' },
};

// Functions, not components: React Aria must see its own rows and cells.

function setupRow({ id, clips }: SetupItem, context: RowContext) {
  const setup = context.setups.get(id);
  const name = setup?.name ?? GATHERED[id]?.name ?? '';
  return (
    <Row id={id} textValue={name} isDisabled hasChildItems data-setup={name}>
      <Cell><Chevron name={name} /></Cell>
      <Cell><SetupRowContent projectId={context.projectId} setup={setup ?? GATHERED[id]} setups={context.setups} clipIds={clips.map((clip) => clip.id)} /></Cell>
      {/* React Aria counts a parent's cells to number its rows: one a column, the first of them drawn over the others. */}
      {context.order.slice(1).map((column) => <Cell key={column}><span /></Cell>)}
      <Collection items={clips} dependencies={[context.order, context.setups]}>{(clip) => clipRow(clip, context)}</Collection>
    </Row>
  );
}

function clipRow({ id, channels }: ClipItem, context: RowContext) {
  return (
    <Row id={id} textValue="" hasChildItems data-clip-id={id}>
      <Cell><div className="choose"><FetchedRow projectId={context.projectId} id={id} around={context.around} /><ChooseBox name="Choose" /><Chevron name="channels" /></div></Cell>
      {context.order.map((column) => <Cell key={column}><ClipCell id={id} column={column} setups={context.setups} /></Cell>)}
      <Collection items={channels}>{(item) => channelRow(item, context)}</Collection>
    </Row>
  );
}

function channelRow({ id, clipId, channel }: ChannelItem, context: RowContext) {
  return (
    <Row id={id} textValue={`Channel ${channel}`} isDisabled>
      <Cell><span /></Cell>
      <Cell colSpan={context.order.length}><ChannelCell id={clipId} channel={channel} /></Cell>
    </Row>
  );
}

function FetchedRow({ projectId, id, around }: { projectId: string; id: string; around: Neighbours }) {
  useRowFetched(projectId, id, around);
  return null;
}

function ClipCell({ id, column, setups }: { id: string; column: ColumnId; setups: Map<string, Setup> }) {
  const row = useRow(id);
  const { numeric, cell } = COLUMNS[column];
  if (!row) return column === 'name' ? <Fact>...</Fact> : null;
  const setupName = row.setupId === null ? null : setups.get(row.setupId)?.name ?? null;
  return <div className={numeric ? 'numbers' : undefined} data-clip={column === 'name' ? row.name : undefined}>{cell(row, setupName)}</div>;
}

function ChannelCell({ id, channel }: { id: string; channel: number }) {
  const row = useRow(id);
  return row ? <ChannelRowContent row={row} channel={channel} /> : null;
}

function ChooseBox({ name }: { name: string }) {
  return (
    <Checkbox slot="selection" aria-label={name}>
      {({ isSelected, isIndeterminate }) => (isIndeterminate ? <Minus size={17} /> : isSelected ? <SquareCheck size={17} /> : <Square size={17} />)}
    </Checkbox>
  );
}

function Chevron({ name }: { name: string }) {
  return <Button slot="chevron" aria-label={`Show or hide ${name}`}><ChevronRight size={15} aria-hidden="true" /></Button>;
}
