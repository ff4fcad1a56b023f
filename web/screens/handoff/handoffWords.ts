import type { Handoff, HandoffFile } from '@pocket-twin/core/schema/handoff.ts';

function filesIn({ files }: Pick<Handoff, 'files'>): number {
  return Object.values(files).reduce((sum, count) => sum + count, 0);
}

/** How a handoff stands, in a word or two. */
export function handoffStateWords(handoff: Handoff): string {
  const { state, files } = handoff;
  const done = `${files.done} of ${filesIn(handoff)}`;
  switch (state) {
    case 'running':
      return done;
    case 'paused':
      return `paused at ${done}`;
    case 'held':
      return `waits at ${done}`;
    case 'finishing':
      return 'ending';
    case 'cancelled':
      return `cancelled at ${done}`;
    case 'done':
      return files.failed > 0 ? `${files.failed} failed` : `${files.done} done`;
  }
}

/** How a handoff stands, in one sentence. */
export function handoffHeadline(handoff: Handoff): string {
  const { state, name, files } = handoff;
  const total = filesIn(handoff);
  const done = `${files.done} of ${total === 1 ? '1 clip' : `${total} clips`}`;
  const failed = files.failed === 0 ? '' : `, ${files.failed} failed`;
  switch (state) {
    case 'running':
      return `Handing off “${name}”: ${done}${failed}.`;
    case 'paused':
      return `“${name}” is paused: ${done} are there${failed}.`;
    case 'held':
      return `“${name}” waits: ${done} are there${failed}.`;
    case 'finishing':
      return `“${name}” is ending: receipts and checksums.`;
    case 'cancelled':
      return `“${name}” was cancelled: ${done} stay, with their proof${failed}.`;
    case 'done':
      if (failed) return `“${name}”: ${done} are handed off${failed}.`;
      return total === 1
        ? `“${name}”: the clip is handed off, and proven.`
        : `“${name}”: all ${total} clips are handed off, and proven.`;
  }
}

/** What became of one file, in a word. */
export const FILE_STATES: Record<HandoffFile['state'], string> = {
  waiting: 'Waiting',
  writing: 'Writing',
  done: 'Proven',
  failed: 'Failed',
  cancelled: 'Cancelled',
};
