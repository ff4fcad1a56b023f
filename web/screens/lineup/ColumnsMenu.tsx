import { Columns3, GripVertical } from 'lucide-react';
import { Button as AriaButton, Checkbox, DialogTrigger, Dialog, GridList, GridListItem, useDragAndDrop } from 'react-aria-components';
import styled from 'styled-components';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { Button } from '../../parts/Button.tsx';
import { Choices } from '../../parts/Field.tsx';
import { columnsShown, grouping } from './lineupSlice.ts';
import { COLUMNS } from './table/columns.tsx';
import { COLUMN_IDS, FIRST_COLUMNS, rememberColumns, type ColumnId, type ShownColumns } from './table/shownColumns.ts';

/** Which columns the table has, in which order; dragging or the arrow keys move them. */
export function ColumnsMenu() {
  return (
    <DialogTrigger>
      <Button kind="plain"><Columns3 size={15} aria-hidden="true" />View</Button>
      <Choices placement="bottom end"><ColumnsForm /></Choices>
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
  const hidden = COLUMN_IDS.filter((id) => !columns.order.includes(id));
  const items = [...columns.order, ...hidden].map((id) => ({ id }));
  const reorder = (moved: ColumnId[], target: ColumnId, after: boolean): void => {
    const rest = columns.order.filter((id) => !moved.includes(id));
    const at = rest.indexOf(target) + (after ? 1 : 0);
    show({ ...columns, order: [...rest.slice(0, at), ...moved.filter((id) => columns.order.includes(id)), ...rest.slice(at)] });
  };
  const { dragAndDropHooks } = useDragAndDrop({
    getItems: (keys) => [...keys].map((key) => ({ 'text/plain': String(key) })),
    onReorder: ({ keys, target }) => reorder([...keys] as ColumnId[], target.key as ColumnId, target.dropPosition === 'after'),
  });
  return (
    <Form aria-label="View">
      <Check isSelected={grouped} onChange={(on) => dispatch(grouping(on))}><i aria-hidden="true" />Group by setup</Check>
      <h3>Columns</h3>
      <GridList
        aria-label="Columns" items={items} selectionMode="multiple" selectedKeys={columns.order} dragAndDropHooks={dragAndDropHooks} disabledKeys={['name']} disabledBehavior="selection" escapeKeyBehavior="none"
        onSelectionChange={(keys) => {
          const on = (id: ColumnId): boolean => id === 'name' || keys === 'all' || keys.has(id);
          show({ ...columns, order: [...columns.order, ...hidden].filter(on) });
        }}
      >
        {({ id }) => (
          <GridListItem id={id} textValue={COLUMNS[id].title}>
            <AriaButton slot="drag" aria-label={`Move ${COLUMNS[id].title}`}><GripVertical size={14} aria-hidden="true" /></AriaButton>
            <Check slot="selection"><i aria-hidden="true" />{COLUMNS[id].title}</Check>
          </GridListItem>
        )}
      </GridList>
      <Button kind="quiet" onPress={() => show(FIRST_COLUMNS)}>As at first</Button>
    </Form>
  );
}

const Form = styled(Dialog)`
  width: 240px; padding: 8px 10px; outline: none; display: flex; flex-direction: column; gap: 8px;
  h3 { font-size: 13px; }
  [role='row'] { display: flex; gap: 6px; align-items: center; padding: 3px 4px; border-radius: 7px; outline-offset: -2px; }
  button[slot='drag'] { border: 0; background: transparent; color: var(--soft); cursor: grab; padding: 2px; display: flex; }
  .react-aria-DropIndicator[data-drop-target] { outline: 1px solid var(--left); }
`;
const Check = styled(Checkbox)`
  display: flex; gap: 8px; align-items: center; cursor: pointer;
  i { width: 15px; height: 15px; border: 1.5px solid var(--soft); border-radius: 4px; display: grid; place-items: center; }
  &[data-selected] i { background: var(--button); border-color: var(--button); }
  &[data-selected] i::after { content: ''; width: 8px; height: 4px; border: solid var(--button-text); border-width: 0 0 2px 2px; transform: translateY(-1px) rotate(-45deg); }
  &[data-disabled] { opacity: 0.6; cursor: default; }
`;
