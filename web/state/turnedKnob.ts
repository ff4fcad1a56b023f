/**
 * Which numbers differ between two values of the same shape, as one text; null where anything else differs too. Two changes with the same text are
 * one knob that goes on being turned, or one boundary that is dragged.
 */
export function turnedKnob(before: unknown, after: unknown): string | null {
  const paths: string[] = [];
  return differ(before, after, '', paths) ? paths.join(' ') : null;
}

/** @returns false where something other than numbers differs */
function differ(before: unknown, after: unknown, path: string, paths: string[]): boolean {
  if (Object.is(before, after)) return true;
  if (typeof before === 'number' && typeof after === 'number') {
    paths.push(path);
    return true;
  }
  if (typeof before !== 'object' || typeof after !== 'object' || before === null || after === null) return false;
  const keys = Object.keys(before);
  return (
    keys.length === Object.keys(after).length &&
    keys.every((key) => key in after && differ(before[key as never], after[key as never], `${path}.${key}`, paths))
  );
}
