import { Rect, TableLayout } from 'react-aria-components';

/** How far beyond what is seen rows are drawn and laid out, in pixels. */
const DRAWN_BEYOND = 450;
const LAID_OUT_BEYOND = 12_000;

/**
 * React Aria's table layout, with rows drawn a little beyond both edges, so that scrolling shows what is there already, and laid out far
 * beyond them: it would lay out all rows above anew with every step down.
 */
export class SteadyTableLayout<T, O> extends TableLayout<T, O & object> {
  override getVisibleLayoutInfos(rect: Rect): ReturnType<TableLayout<T>['getVisibleLayoutInfos']> {
    return super.getVisibleLayoutInfos(grown(rect, DRAWN_BEYOND));
  }

  protected override layoutIfNeeded(rect: Rect): void {
    const { requestedRect } = this as unknown as { requestedRect: Rect };
    super.layoutIfNeeded(requestedRect.containsRect(rect) ? rect : grown(rect, LAID_OUT_BEYOND));
  }
}

function grown({ x, y, width, height }: Rect, by: number): Rect {
  const top = Math.max(0, y - by);
  return new Rect(x, top, width, y + height + by - top);
}
