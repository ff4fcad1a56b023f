import { z } from 'zod';

/** What a row can show. The name is always there: it is what a row is called by. */
export const COLUMN_IDS = ['verdict', 'name', 'ribbon', 'what', 'left', 'right', 'balance', 'suggestion', 'state', 'length', 'channels', 'timecode', 'setup'] as const;
export type ColumnId = (typeof COLUMN_IDS)[number];

/** Which columns are shown, in which order, and how wide in pixels where that was changed. */
export const ShownColumns = z.object({ order: z.array(z.enum(COLUMN_IDS)), widths: z.partialRecord(z.enum(COLUMN_IDS), z.number().min(40).max(1200)) });
export type ShownColumns = z.infer<typeof ShownColumns>;

const KEY = 'pocket-twin.columns';

export const FIRST_COLUMNS: ShownColumns = { order: ['verdict', 'name', 'ribbon', 'what', 'left', 'right', 'suggestion', 'state'], widths: {} };

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
