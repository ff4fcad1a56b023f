/** File names of one series compare right: A2 before A10. */
export const naturalOrder = new Intl.Collator('en', { numeric: true, sensitivity: 'base' }).compare;

/** A text whose plain order is nearly the natural one: for long lists, where asking the collator at each step would be felt. */
export function naturalKey(text: string): string {
  return text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/\d+/g, (digits) => digits.padStart(12, '0'));
}

export function stem(fileName: string): string {
  const dot = fileName.lastIndexOf('.');
  return dot > 0 ? fileName.slice(0, dot) : fileName;
}

/** What names of one series share: every run of digits is a place for a number. "A001_take2.wav" is "a#_take#". */
export function namePattern(fileName: string): string {
  return stem(fileName).toLowerCase().replace(/\d+/g, '#');
}

/** The words that a series' names begin with: "crossing-A" of "crossing-A001". Empty where they begin with a number. */
export function nameBeginning(fileName: string): string {
  return stem(fileName)
    .replace(/\d.*$/, '')
    .replace(/[\s_.-]+$/, '');
}

const MARKS: Record<string, 'left' | 'right'> = {
  l: 'left',
  left: 'left',
  r: 'right',
  right: 'right',
  1: 'left',
  2: 'right',
};

/** A name that ends in a mark for one side: "walk_L" is the left of "walk"; 1 and 2 are weak marks, as takes are numbered so too. */
export function sideMark(fileName: string): { rest: string; side: 'left' | 'right'; weak: boolean } | null {
  const match = /^(.+?)(?:[\s_.-]+([LRlr12]|left|right|Left|Right|LEFT|RIGHT)|(?<=[a-z0-9])([LR]))$/.exec(
    stem(fileName),
  );
  if (!match) return null;
  const mark = (match[2] ?? match[3]).toLowerCase();
  return { rest: match[1].toLowerCase(), side: MARKS[mark], weak: mark === '1' || mark === '2' };
}
