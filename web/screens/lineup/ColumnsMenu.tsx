import { ChevronDown, ChevronUp, Columns3 } from 'lucide-react';
import { Checkbox, Dialog, DialogTrigger } from 'react-aria-components';
import styled from 'styled-components';
import { useAppDispatch, useAppSelector } from '../../state/store.ts';
import { Button } from '../../parts/Button.tsx';
import { Choices } from '../../parts/Field.tsx';
import { columnsShown, grouping } from '../../state/lineupSlice.ts';
import { COLUMNS } from './table/columns.tsx';
import {
  FIRST_COLUMNS,
  listedColumns,
  movedColumn,
  rememberColumns,
  toggledColumn,
  type ColumnId,
  type ShownColumns,
} from '../../state/shownColumns.ts';

/** Which columns the table has, and in which order. */
export function ColumnsMenu() {
  return (
    <DialogTrigger>
      <Button kind="plain">
        <Columns3 size={15} aria-hidden="true" />
        View
      </Button>
      <Choices placement="bottom end">
        <ColumnsForm />
      </Choices>
    </DialogTrigger>
  );
}

function ColumnsForm() {
  const dispatch = useAppDispatch();
  const { columns, grouped } = useAppSelector((state) => state.lineup);
  const show = (next: ShownColumns): void => {
    dispatch(columnsShown(next));
    rememberColumns(next);
  };
  const listed = listedColumns(columns);
  return (
    <Form aria-label="View">
      <Check isSelected={grouped} onChange={(on) => dispatch(grouping(on))}>
        <i aria-hidden="true" />
        Group by setup
      </Check>
      <h3>Columns, from the left</h3>
      <ul aria-label="Columns">
        {listed.map((id) => (
          <ColumnLine key={id} id={id} columns={columns} onChange={show} />
        ))}
      </ul>
      <Button kind="quiet" onPress={() => show(FIRST_COLUMNS)}>
        As at first
      </Button>
    </Form>
  );
}

function ColumnLine({
  id,
  columns,
  onChange,
}: {
  id: ColumnId;
  columns: ShownColumns;
  onChange: (next: ShownColumns) => void;
}) {
  const at = columns.order.indexOf(id);
  const { title } = COLUMNS[id];
  return (
    <li>
      <Check isSelected={at >= 0} isDisabled={id === 'name'} onChange={() => onChange(toggledColumn(columns, id))}>
        <i aria-hidden="true" />
        {title}
      </Check>
      {at >= 0 && (
        <>
          <Move
            kind="plain"
            aria-label={`Move ${title} to the left`}
            isDisabled={at === 0}
            onPress={() => onChange(movedColumn(columns, id, -1))}
          >
            <ChevronUp size={15} aria-hidden="true" />
          </Move>
          <Move
            kind="plain"
            aria-label={`Move ${title} to the right`}
            isDisabled={at === columns.order.length - 1}
            onPress={() => onChange(movedColumn(columns, id, 1))}
          >
            <ChevronDown size={15} aria-hidden="true" />
          </Move>
        </>
      )}
    </li>
  );
}

const Form = styled(Dialog)`
  width: 260px; padding: 8px 10px; outline: none; display: flex; flex-direction: column; gap: 8px;
  h3 { font-size: 13px; }
  ul { list-style: none; margin: 0; padding: 0; }
  li { display: flex; gap: 2px; align-items: center; min-height: 28px; padding: 0 2px; }
  li > :first-child { flex: 1; }
`;
const Move = styled(
  Button,
)`&& { min-height: 26px; width: 26px; padding: 0; border-radius: 7px; color: var(--soft); } &&[data-disabled] { opacity: 0.35; }`;
const Check = styled(Checkbox)`
  display: flex; gap: 8px; align-items: center; cursor: pointer;
  i { width: 15px; height: 15px; border: 1.5px solid var(--soft); border-radius: 4px; display: grid; place-items: center; }
  &[data-selected] i { background: var(--button); border-color: var(--button); }
  &[data-selected] i::after { content: ''; width: 8px; height: 4px; border: solid var(--button-text); border-width: 0 0 2px 2px; transform: translateY(-1px) rotate(-45deg); }
  &[data-disabled] { opacity: 0.6; cursor: default; }
  &[data-focus-visible] { outline: 2px solid var(--left); outline-offset: 2px; border-radius: 4px; }
`;
