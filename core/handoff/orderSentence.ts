import type { HandoffForecast, HandoffWanted } from '../schema/handoff.ts';

/** What is about to happen, in one sentence: "37 clips into “cut-2”, same names, picture untouched; 3 wait for you." */
export function orderSentence(
  { files, undecided }: Pick<HandoffForecast, 'files' | 'undecided'>,
  { name, pattern, format, place, handlesSeconds }: HandoffWanted,
): string {
  const count = files.length;
  const parts = [
    `${count === 1 ? '1 clip' : `${count} clips`} into ${place.kind === 'download' ? `the archive “${name}.zip”` : `“${name}”`}`,
    pattern === null ? 'same names' : 'new names',
    format === 'same' ? 'picture untouched' : `sound alone as ${format.toUpperCase()}`,
    ...(handlesSeconds === null ? [] : ['only what the edit uses']),
  ];
  const waiting =
    undecided.length === 0 ? '' : `; ${undecided.length === 1 ? '1 waits' : `${undecided.length} wait`} for you`;
  return `${parts.join(', ')}${waiting}.`;
}
