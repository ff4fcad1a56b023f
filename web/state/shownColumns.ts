import * as z from 'zod';

/** What a row can show. The name is always there: it is what a row is called by. */
export const COLUMN_IDS = [
  'verdict',
  'name',
  'ribbon',
  'what',
  'left',
  'right',
  'balance',
  'suggestion',
  'state',
  'length',
  'channels',
  'timecode',
  'setup',
] as const;
export type ColumnId = (typeof COLUMN_IDS)[number];

/** Which columns are shown, in which order, and how wide in pixels where that was changed. */
export const ShownColumns = z.object({
  order: z.array(z.enum(COLUMN_IDS)),
  widths: z.partialRecord(z.enum(COLUMN_IDS), z.number().min(40).max(1200)),
});
export type ShownColumns = z.infer<typeof ShownColumns>;

const KEY = 'pocket-twin.columns';

export const FIRST_COLUMNS: ShownColumns = {
  order: ['verdict', 'name', 'ribbon', 'what', 'left', 'right', 'suggestion', 'state'],
  widths: {},
};

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

/** What the sentence needs to be read. */
const LEAST_SENTENCE_PIXELS = 240;
const LEAST_NAME_PIXELS = 120;
const LEAST_REPAIR_PIXELS = 140;
const CHOOSING_PIXELS = 46;
// The sentence is what people came for: it is the last to give way.
const FIRST_TO_GO: ColumnId[] = [
  'state',
  'right',
  'left',
  'balance',
  'timecode',
  'channels',
  'length',
  'setup',
  'ribbon',
  'verdict',
  'suggestion',
];

/**
 * The columns that fit, and how wide each is: those that say least go first, left and right together; what is left over goes to the sentence.
 * @param widthOf a column's width where nothing presses
 */
export function fittingColumns(
  { order, widths }: ShownColumns,
  availablePixels: number,
  widthOf: (id: ColumnId) => number,
): { id: ColumnId; pixels: number }[] {
  const wanted = (id: ColumnId): number =>
    id === 'what' ? Math.max(LEAST_SENTENCE_PIXELS, widths.what ?? 0) : (widths[id] ?? widthOf(id));
  const least = (id: ColumnId): number =>
    id === 'what'
      ? LEAST_SENTENCE_PIXELS
      : id === 'name'
        ? LEAST_NAME_PIXELS
        : id === 'suggestion'
          ? Math.min(LEAST_REPAIR_PIXELS, wanted(id))
          : wanted(id);
  const room = availablePixels - CHOOSING_PIXELS;
  const sum = (ids: readonly ColumnId[], pixels: (id: ColumnId) => number): number =>
    ids.reduce((total, id) => total + pixels(id), 0);
  let kept = order;
  const squeezed = (ids: readonly ColumnId[]): number =>
    sum(ids, (id) => (id === 'what' ? LEAST_SENTENCE_PIXELS : wanted(id)));
  for (const gone of FIRST_TO_GO) {
    if (squeezed(kept) <= room) break;
    const together = gone === 'right' ? ['left', 'right'] : [gone];
    kept = kept.filter((id) => !together.includes(id));
    // Name and repair may narrow before the repair goes.
    if (gone === 'verdict' && sum(kept, least) <= room) break;
  }
  let missing = Math.max(0, squeezed(kept) - room);
  const pixels = new Map(kept.map((id) => [id, id === 'what' ? LEAST_SENTENCE_PIXELS : wanted(id)]));
  for (const id of ['name', 'suggestion'] as const) {
    if (!pixels.has(id)) continue;
    const given = Math.min(missing, pixels.get(id)! - least(id));
    pixels.set(id, pixels.get(id)! - given);
    missing -= given;
  }
  const spare = room - [...pixels.values()].reduce((total, one) => total + one, 0);
  const takes = kept.includes('what') ? 'what' : 'name';
  // A sentence that a person made wider or narrower stays so where there is room for it.
  if (spare > 0)
    pixels.set(
      takes,
      pixels.get(takes)! +
        (takes === 'what' && widths.what ? Math.min(spare, Math.max(0, widths.what - LEAST_SENTENCE_PIXELS)) : spare),
    );
  return kept.map((id) => ({ id, pixels: pixels.get(id)! }));
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
