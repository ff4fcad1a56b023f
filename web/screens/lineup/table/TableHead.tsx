import { Minus, Square, SquareCheck } from 'lucide-react';
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { useAppDispatch, useAppSelector } from '../../../state/store.ts';
import { chosen as chosenAction, columnsShown, sorted } from '../../../state/lineupSlice.ts';
import { COLUMNS } from './columns.tsx';
import { rememberColumns, type ColumnId } from '../../../state/shownColumns.ts';

interface TableHeadProps {
  projectId: string;
  columns: { id: ColumnId; pixels: number }[];
  template: string;
  order: string[];
  chosen: ReadonlySet<string>;
}

const KEY_STEP_PIXELS = 16;
const LEAST_PIXELS = 48;
const MOST_PIXELS = 1200;

/** The headings: a press sorts, their edges widen, by pointer or by arrows. */
export function TableHead({ projectId, columns, template, order, chosen }: TableHeadProps) {
  const dispatch = useAppDispatch();
  const { query } = useAppSelector((state) => state.lineup);
  const shownAreChosen = order.length > 0 && order.every((id) => chosen.has(id));
  const someAreChosen = order.some((id) => chosen.has(id));
  const chooseAll = (): void => {
    const inSight = new Set(order);
    const hidden = [...chosen].filter((id) => !inSight.has(id));
    dispatch(chosenAction({ projectId, ids: shownAreChosen ? hidden : [...hidden, ...order] }));
  };
  return (
    <div role="rowgroup" className="head">
      <div role="row" aria-rowindex={1} style={{ gridTemplateColumns: template }}>
        <div role="columnheader">
          <button
            type="button"
            role="checkbox"
            className="choose"
            aria-label="Choose all"
            aria-checked={shownAreChosen ? true : someAreChosen ? 'mixed' : false}
            onClick={chooseAll}
            tabIndex={-1}
          >
            {shownAreChosen ? <SquareCheck size={17} /> : someAreChosen ? <Minus size={17} /> : <Square size={17} />}
          </button>
        </div>
        {columns.map(({ id, pixels }) => {
          const { title, sort, numeric, quiet } = COLUMNS[id];
          const by = sort !== null && query.sort === sort ? (query.descending ? 'descending' : 'ascending') : undefined;
          const name = (
            <>
              <span className={quiet ? 'quiet' : undefined}>{title}</span>
              {by && <span aria-hidden="true">{by === 'ascending' ? '↑' : '↓'}</span>}
            </>
          );
          return (
            <div
              key={id}
              role="columnheader"
              aria-sort={sort === null ? undefined : (by ?? 'none')}
              className={numeric ? 'numbers' : undefined}
            >
              {sort === null ? (
                <span className="heading">{name}</span>
              ) : (
                <button
                  type="button"
                  className="heading"
                  data-sort={sort}
                  onClick={() => dispatch(sorted({ column: sort, descending: by === 'ascending' }))}
                >
                  {name}
                </button>
              )}
              <Edge id={id} title={title} pixels={pixels} />
            </div>
          );
        })}
      </div>
    </div>
  );
}

function Edge({ id, title, pixels }: { id: ColumnId; title: string; pixels: number }) {
  const dispatch = useAppDispatch();
  const columns = useAppSelector((state) => state.lineup.columns);
  const drag = useRef<{ x: number; pixels: number } | null>(null);
  const widen = (to: number): void => {
    const next = {
      ...columns,
      widths: { ...columns.widths, [id]: Math.round(Math.max(LEAST_PIXELS, Math.min(MOST_PIXELS, to))) },
    };
    dispatch(columnsShown(next));
    rememberColumns(next);
  };
  const key = (event: KeyboardEvent): void => {
    const step = { ArrowLeft: -KEY_STEP_PIXELS, ArrowRight: KEY_STEP_PIXELS }[event.key];
    if (step === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    widen(pixels + step);
  };
  const down = (event: PointerEvent): void => {
    drag.current = { x: event.clientX, pixels };
    event.currentTarget.setPointerCapture(event.pointerId);
  };
  return (
    <div
      role="slider"
      tabIndex={0}
      className="edge"
      aria-label={`Width of ${title}`}
      aria-orientation="horizontal"
      aria-valuenow={Math.round(pixels)}
      aria-valuemin={LEAST_PIXELS}
      aria-valuemax={MOST_PIXELS}
      aria-valuetext={`${Math.round(pixels)} pixels`}
      onKeyDown={key}
      onPointerDown={down}
      onPointerMove={(event) => {
        if (drag.current) widen(drag.current.pixels + event.clientX - drag.current.x);
      }}
      onPointerUp={() => {
        drag.current = null;
      }}
    />
  );
}
