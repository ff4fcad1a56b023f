import type { Handoff, HandoffFile } from '@pocket-twin/core/schema/handoff.ts';

export function filesIn({ files }: Pick<Handoff, 'files'>): number {
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

/** What became of one file, in a word. */
export const FILE_STATES: Record<HandoffFile['state'], string> = {
  waiting: 'Waiting',
  writing: 'Writing',
  done: 'Proven',
  failed: 'Failed',
  cancelled: 'Cancelled',
};
