import * as z from 'zod';

/** What a row can show. The name is always there: it is what a row is called by. */
export const COLUMN_IDS = ['verdict', 'name', 'ribbon', 'what', 'left', 'right', 'balance', 'suggestion', 'state', 'length', 'channels', 'timecode', 'setup'] as const;
export type ColumnId = (typeof COLUMN_IDS)[number];

/** Which columns are shown, in which order, and how wide in pixels where that was changed. */
export const ShownColumns = z.object({ order: z.array(z.enum(COLUMN_IDS)), widths: z.partialRecord(z.enum(COLUMN_IDS), z.number().min(40).max(1200)) });
export type ShownColumns = z.infer<typeof ShownColumns>;

const KEY = 'pocket-twin.columns';

export const FIRST_COLUMNS: ShownColumns = { order: ['verdict', 'name', 'ribbon', 'what', 'left', 'right', 'suggestion', 'state'], widths: {} };

/** Every column: those shown in their order, then the others. */
export function listedColumns({ order }: ShownColumns): ColumnId[] {
  return [...order, ...COLUMN_IDS.filter((id) => !order.includes(id))];
}

/** Shows or hides a column; one that comes back goes where it stands by itself, the last. */
export function toggledColumn(columns: ShownColumns, id: ColumnId): ShownColumns {
  const { order } = columns;
  return { ...columns, order: order.includes(id) ? order.filter((other) => other !== id) : [...order, id] };
}

/** Moves a shown column past its neighbour. */
export function movedColumn(columns: ShownColumns, id: ColumnId, by: -1 | 1): ShownColumns {
  const order = [...columns.order];
  const at = order.indexOf(id);
  const target = at + by;
  if (at < 0 || target < 0 || target >= order.length) return columns;
  [order[at], order[target]] = [order[target], order[at]];
  return { ...columns, order };
}

/** The person's choice of the last visit. */
export function rememberedColumns(): ShownColumns {
  try {
    const found = ShownColumns.safeParse(JSON.parse(localStorage.getItem(KEY) ?? 'null'));
    return found.success && found.data.order.includes('name') ? found.data : FIRST_COLUMNS;
  } catch {
    return FIRST_COLUMNS;
  }
}

export function rememberColumns(columns: ShownColumns): void {
  localStorage.setItem(KEY, JSON.stringify(columns));
}
